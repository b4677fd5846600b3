/** What of ECharts is used, fetched only where charts are. */
import { LineChart } from 'echarts/charts';
import { GridComponent, TitleComponent, TooltipComponent } from 'echarts/components';
import { init, use } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';

use([LineChart, GridComponent, TitleComponent, TooltipComponent, CanvasRenderer]);
export { init };
