import type { App } from './app.svelte.ts';

/** Shortcuts that work in every step; each step adds its own to the help. */
export const SHELL_SHORTCUTS: readonly (readonly [keys: string, does: string])[] = [
  ['Ctrl+K', 'Find a unit, scene or action'],
  ['Ctrl+Z / Ctrl+Shift+Z', 'Undo / redo'],
  ['F (hold)', 'Light the selection at full white'],
  ['L', 'Let everything by hand go'],
  ['B', 'Blind: try without sending'],
  ['W', 'Who sets the selection, and why'],
  ['Ctrl+A', 'Select all units that are shown'],
  ['Esc', 'Select nothing'],
  ['G, then A to Z', 'Select one of the first 26 groups (Shift: add it)'],
  ['T', 'Fold the tail'],
  ['D', 'Fold the details'],
  ['?', 'These shortcuts'],
];

const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) &&
  (target as HTMLInputElement).type !== 'range';

/** Fields with text that was typed and not taken yet: there Ctrl+Z is about the text. */
const typed = new WeakSet<EventTarget>();
const isTyped = (target: EventTarget | null): boolean =>
  target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement
    ? typed.has(target) || target.type === 'search' || target.getAttribute('aria-invalid') === 'true'
    : typing(target);

/** Listens for the shell's shortcuts; returns the function that stops listening. */
export function listenForShortcuts(app: App): () => void {
  const down = (event: KeyboardEvent): void => {
    if (event.defaultPrevented) return;
    const command = event.ctrlKey || event.metaKey;
    const key = event.key.toLowerCase();
    if (command && key === 'k') act(event, () => (app.finderOpen = true));
    else if (command && (key === 'z' || key === 'y')) {
      if (isTyped(event.target)) return;
      act(event, () => void (event.shiftKey || key === 'y' ? app.live.redo() : app.live.undo()));
    } else if (typing(event.target)) return;
    else if (command && key === 'a') act(event, () => app.selectAll());
    else if (command || event.altKey) return;
    else if (app.groupKeys) chooseGroup(app, event);
    else if (key === 'g' && app.rig.groups.length > 0) app.groupKeys = true;
    else if (key === 'f' && !event.repeat && app.selection.lit.length > 0) app.identify(app.selection.lit);
    else if (key === 'l') app.hand.letGo();
    else if (key === 'b') app.toggleBlind();
    else if (key === 'w') app.whyOpen = true;
    else if (key === 't' && event.shiftKey) app.stretchTail();
    else if (key === 't') app.foldTail();
    else if (key === 'd') app.foldDetails();
    else if (event.key === '?') app.helpOpen = !app.helpOpen;
    else if (key === 'escape' && !app.finderOpen) app.selection.clear();
  };
  const up = (event: KeyboardEvent): void => {
    if (event.key.toLowerCase() === 'f') app.identify([]);
  };
  const blur = (): void => app.identify([]);
  const type = ({ target }: Event): void => void (target && typed.add(target));
  const taken = ({ target }: Event): void => void (target && typed.delete(target));
  window.addEventListener('input', type, true);
  for (const name of ['change', 'focusin', 'focusout']) window.addEventListener(name, taken, true);
  window.addEventListener('keydown', down);
  window.addEventListener('keyup', up);
  window.addEventListener('blur', blur);
  return () => {
    window.removeEventListener('keydown', down);
    window.removeEventListener('keyup', up);
    window.removeEventListener('blur', blur);
    window.removeEventListener('input', type, true);
    for (const name of ['change', 'focusin', 'focusout']) window.removeEventListener(name, taken, true);
  };
}

/** The letter after `G`: selects the group that has it; any other key only ends the choosing. */
function chooseGroup(app: App, event: KeyboardEvent): void {
  if (event.key === 'Shift') return;
  const group = app.rig.letters.get(event.key.toUpperCase());
  act(event, () => (app.groupKeys = false));
  if (!group) return;
  const ids = app.rig.membersOf(group.id);
  if (event.shiftKey) app.selection.add(ids);
  else app.selection.set(ids);
}

function act(event: KeyboardEvent, job: () => void): void {
  event.preventDefault();
  job();
}
