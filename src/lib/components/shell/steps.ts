import Package from '@lucide/svelte/icons/package';
import ListOrdered from '@lucide/svelte/icons/list-ordered';
import Cable from '@lucide/svelte/icons/cable';
import Map from '@lucide/svelte/icons/map';
import Clapperboard from '@lucide/svelte/icons/clapperboard';
import Music from '@lucide/svelte/icons/music';
import LayoutGrid from '@lucide/svelte/icons/layout-grid';
import CalendarDays from '@lucide/svelte/icons/calendar-days';
import Plane from '@lucide/svelte/icons/plane';
import Archive from '@lucide/svelte/icons/archive';
import Settings from '@lucide/svelte/icons/settings';

export interface StepInfo {
  readonly path: string;
  readonly name: string;
  readonly icon: typeof Package;
}

/** The mast: steps in the order of the job, then the second group at the foot. */
export const STEPS: readonly StepInfo[] = [
  { path: '/kit', name: 'Kit', icon: Package },
  { path: '/patch', name: 'Patch', icon: ListOrdered },
  { path: '/lines', name: 'Lines', icon: Cable },
  { path: '/plot', name: 'Plot', icon: Map },
  { path: '/scenes', name: 'Scenes', icon: Clapperboard },
  { path: '/music', name: 'Music', icon: Music },
  { path: '/show', name: 'Show', icon: LayoutGrid },
  { path: '/calendar', name: 'Calendar', icon: CalendarDays },
];
export const FOOT: readonly StepInfo[] = [
  { path: '/preflight', name: 'Pre-flight', icon: Plane },
  { path: '/keep', name: 'Keep', icon: Archive },
  { path: '/settings', name: 'Settings', icon: Settings },
];
