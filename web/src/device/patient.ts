/** A request that may take as long as it does on a bad line, and is given up once the line falls silent. */

/** How long nothing may come or go before a request is given up, in milliseconds. */
const silence = 60_000;

export interface Answered {
  status: number;
  text: string;
  /** when it was sent, and when the answer had come, in milliseconds since 1970 */
  sent: number;
  arrived: number;
}

/** Posts a body. Rejects when the line breaks or falls silent, or when the signal says so: fetch tells nothing of how far a body has gone. */
export function postPatiently(path: string, body: XMLHttpRequestBodyInit, headers: Record<string, string>, signal: AbortSignal): Promise<Answered> {
  return new Promise((done, fail) => {
    const request = new XMLHttpRequest();
    let timer: ReturnType<typeof setTimeout>;
    let sent = 0;
    const stop = () => request.abort();
    const heard = () => {
      clearTimeout(timer);
      timer = setTimeout(stop, silence);
    };
    const over = () => {
      clearTimeout(timer);
      signal.removeEventListener("abort", stop);
    };
    request.onload = () => {
      const arrived = Date.now();
      over();
      done({ status: request.status, text: request.responseText, sent, arrived });
    };
    request.onerror = request.onabort = () => {
      over();
      fail(new TypeError("the line broke"));
    };
    request.onprogress = request.upload.onprogress = heard;
    request.open("POST", path);
    for (const [name, value] of Object.entries(headers)) request.setRequestHeader(name, value);
    signal.addEventListener("abort", stop);
    heard();
    if (signal.aborted) fail(new TypeError("given up"));
    else {
      sent = Date.now();
      request.send(body);
    }
  });
}
