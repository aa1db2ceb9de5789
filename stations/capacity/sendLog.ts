/** What the server said to a log that was sent. */
export type SentLog = { ok: true; id: number } | { ok: false; said: string };

export interface Sending {
  answer: Promise<SentLog>;
  cancel(): void;
}

/** Sends a log to the API with the fraction sent so far; fetch cannot report that, so the older request object does. */
export function sendLog(file: File, parameters: Record<string, string>, progress: (fraction: number) => void): Sending {
  const request = new XMLHttpRequest();
  const answer = new Promise<SentLog>((resolve) => {
    request.upload.onprogress = ({ loaded, total }) => progress(total > 0 ? loaded / total : 0);
    request.onload = () => {
      const body = JSON.parse(request.responseText || '{}') as { id?: number; error?: { message: string } };
      resolve(
        request.status === 201 && body.id !== undefined
          ? { ok: true, id: body.id }
          : { ok: false, said: body.error?.message ?? `The server answered ${request.status}.` },
      );
    };
    request.onerror = () => resolve({ ok: false, said: 'The server did not answer; nothing was stored. Try again.' });
    request.onabort = () => resolve({ ok: false, said: 'Stopped; nothing was stored.' });
  });
  request.open('POST', `/api/v1/runs?${new URLSearchParams(parameters)}`);
  request.setRequestHeader('content-type', 'application/octet-stream');
  request.send(file);
  return { answer, cancel: () => request.abort() };
}
