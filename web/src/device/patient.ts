/** A request that may take as long as it does on a bad line, and is given up once the line falls silent. */

/** How long nothing may come or go before a request is given up, in milliseconds. */
const silence = 60_000;

export interface Answered {
  status: number;
  text: string;
  trip: Trip;
}

/** When a request was sent and its answer had come, in milliseconds since 1970; and how many passed between, on a clock that nobody sets. */
export interface Trip {
  sent: number;
  now: number;
  took: number;
}

/** Posts a body. Rejects when the line breaks or falls silent, or when the signal says so: fetch tells nothing of how far a body has gone. */
export function postPatiently(path: string, body: XMLHttpRequestBodyInit, headers: Record<string, string>, signal: AbortSignal): Promise<Answered> {
  return new Promise((done, fail) => {
    const request = new XMLHttpRequest();
    let timer: ReturnType<typeof setTimeout>;
    let sent = 0;
    let began = 0;
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
      const trip = { sent, now: Date.now(), took: performance.now() - began };
      over();
      done({ status: request.status, text: request.responseText, trip });
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
      began = performance.now();
      request.send(body);
    }
  });
}
