/** Where a key was pressed, to tell whether it is ours or the control's. */

const within = (target: EventTarget | null, selector: string) => target instanceof HTMLElement && target.closest(selector) !== null;

export const isTyping = (target: EventTarget | null) => within(target, "input, textarea, [contenteditable]");

/** In a panel or a control that has keys of its own. */
export const inPanel = (target: EventTarget | null) =>
  within(target, "[role=dialog], [role=menu], [role=listbox], [role=radiogroup], [role=slider]");

const SINGLE_KEYS = "perigram single keys";

/** Whether keys of one character do anything: who speaks to the computer, or hits keys by accident, has them off. */
export const singleKeysOn = () => localStorage.getItem(SINGLE_KEYS) !== "off";
export const setSingleKeys = (on: boolean) => localStorage.setItem(SINGLE_KEYS, on ? "on" : "off");

/** A key of one character while those are switched off; Space is none of them. */
export const isSwitchedOff = (event: KeyboardEvent) => event.key.length === 1 && event.key !== " " && !singleKeysOn();

/**
 * What closes hands the focus back a moment later: not when something else has taken it by then.
 * A key pressed in that moment may have opened the next panel, which would close as its focus left it.
 */
export const leaveFocusTaken = (event: Event) => {
  if (document.activeElement !== document.body) event.preventDefault();
};

let held = false;

/** A pointer has been pressed on what `onceReleased` may move. */
export function press() {
  held = true;
  for (const end of ["pointerup", "pointercancel"]) {
    addEventListener(end, () => (held = false), { capture: true, once: true });
  }
}

/**
 * Does something that may move things on the page: at once, or once the pointer is let go and the click has been given.
 * What was pressed would else be somewhere else by then, and something else clicked on.
 */
export function onceReleased(run: () => void) {
  if (!held) return run();
  addEventListener("pointerup", () => setTimeout(run), { capture: true, once: true });
}
