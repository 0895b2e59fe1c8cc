/** Where a key was pressed, to tell whether it is ours or the control's. */

const within = (target: EventTarget | null, selector: string) => target instanceof HTMLElement && target.closest(selector) !== null;

export const isTyping = (target: EventTarget | null) => within(target, "input, textarea, [contenteditable]");

/** In a panel or a control that has keys of its own. */
export const inPanel = (target: EventTarget | null) =>
  within(target, "[role=dialog], [role=menu], [role=listbox], [role=radiogroup], [role=slider]");
