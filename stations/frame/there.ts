const againMs = 2000;

const isThere = (): Promise<boolean> =>
  fetch('/api/v1/health').then(
    ({ status }) => status < 500,
    () => false,
  );

/** Resolves once the workshop answers, with its database; it is asked again and again until then, or until `isOver`. */
export async function untilThere(isOver: () => boolean): Promise<void> {
  while (!isOver() && !(await isThere())) await new Promise((again) => setTimeout(again, againMs));
}
