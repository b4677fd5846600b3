import type { Viewpoint } from '$core/room/viewpoints.ts';
import type { ShowRecord } from '$core/records/index.ts';
import { tidyPlace } from '$core/plot/paper.ts';
import type { App } from '../app.svelte.ts';

/** Edits of the show's own places to look at the room from: each is one edit and one undo. */

type Own = ShowRecord['viewpoints'][number];

function put(app: App, does: string, change: (views: readonly Own[]) => Own[]): string | null {
  const { show } = app.rig;
  if (!show) return 'No show is open.';
  return app.live.edit(does, { put: [{ ...show, viewpoints: change(show.viewpoints) }], remove: [] })
    ? null
    : 'Not changed.';
}

/** Keeps a view: under the key of one that is there, or as a new one. */
export function keepView(app: App, { eye, target }: Viewpoint, key?: string): void {
  const place = { eye: tidyPlace(eye), target: tidyPlace(target) };
  void put(app, 'Keep a view', (views) => {
    if (key !== undefined) return views.map((view) => (view.key === key ? { ...view, ...place } : view));
    let n = views.length + 1;
    while (views.some((view) => view.key === `view${n}` || view.name === `View ${n}`)) n++;
    return [...views, { key: `view${n}`, name: `View ${n}`, ...place }];
  });
}

export const nameView = (app: App, key: string, name: string): string | null =>
  put(app, 'Name a view', (views) => views.map((view) => (view.key === key ? { ...view, name } : view)));

export const dropView = (app: App, key: string): string | null =>
  put(app, 'Take a view away', (views) => views.filter((view) => view.key !== key));
