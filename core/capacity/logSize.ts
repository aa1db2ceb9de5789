/** A longer log is hardly one discharge: this is about ten million samples. */
export const largestLogBytes = 200 * 2 ** 20;

export const tooLargeText = (bytes: number): string =>
  `This file has ${Math.round(bytes / 2 ** 20)} MB or more; a log may have ${largestLogBytes / 2 ** 20} MB. ` +
  'Export one discharge at a time, or every tenth sample.';
