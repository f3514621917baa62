/** After an act the way back is at hand: whoever pressed a button goes on from there, whoever types goes on typing. */

const PRESSED = "button, a, summary, [role=menuitem]";

/** Moves the focus to `undo` unless somebody is in a field; answers what had it before. */
export function toUndo(undo: HTMLElement): Element | null {
  const at = document.activeElement;
  const pressed = !at || at === document.body || at.matches(PRESSED);
  if (!pressed) return null;
  undo.focus({ preventScroll: true });
  return at;
}

/** Where the focus would be lost with what goes away, it returns to where it was. */
export function returnFrom(going: Element | null, before: Element | null): void {
  if (going?.contains(document.activeElement) && before instanceof HTMLElement && before.isConnected) before.focus({ preventScroll: true });
}
