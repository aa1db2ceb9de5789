/** Asks the frame to show the keys of the screen. */
export const openKeysEvent = 'bold-ember:keys';
export const openKeys = (): void => void window.dispatchEvent(new Event(openKeysEvent));
