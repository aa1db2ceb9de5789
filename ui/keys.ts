/** Hands a whole line to the reading bar, as if it had been typed and entered. */
export const lineEvent = 'bold-ember:line';
export const enterLine = (text: string): void =>
  void window.dispatchEvent(new CustomEvent(lineEvent, { detail: text }));

/** Asks the frame to show the keys of the screen. */
export const openKeysEvent = 'bold-ember:keys';
export const openKeys = (): void => void window.dispatchEvent(new Event(openKeysEvent));
