/** Files: taken or picked, made small enough, kept on the device, sent after the entries that mention them, fetched to be read. */
import type { Code, FileRef } from "../types";
import { CoreError } from "./core";
import type { DeviceDB } from "./db";
import { ServerProblem } from "./problem";
import type { StoredFile } from "./tables";

/** Photos are at most this wide and high; their small pictures this. */
const photoSize = 2560;
const thumbSize = 400;

/** The copies that reports carry: forty of them go into one. */
const printSize = 1100;
const printBytes = 200_000;

/** Pieces an upload is cut into: each that arrived is not sent again. */
const pieceSize = 1 << 20;

const largest = 64 << 20;

/** From this size on a photo is scaled while it is read. */
const largePhoto = 8 << 20;

/** The media types taken, as a file picker names them. */
export const photoTypes = "image/*";
export const paperTypes = "application/pdf,text/plain,image/*";

/** What becomes of a file before it is kept: a photo is scaled and encoded anew, which also leaves out where it was taken. */
export async function prepare(file: File): Promise<StoredFile> {
  const photo = file.type.startsWith("image/");
  let blob: Blob = file;
  let thumb: Blob | undefined;
  let print: StoredFile | undefined;
  if (photo) {
    // Read at the size it is kept in: forty megapixels unpacked would be more than some phones give a page.
    const image = await bitmap(file).catch(() => {
      throw new CoreError({ code: /hei[cf]/i.test(file.type + file.name) ? "file.heic" : "file.unreadable", args: { name: file.name } });
    });
    [blob, thumb] = await Promise.all([drawn(image, photoSize, 0.85), drawn(image, thumbSize, 0.8)]);
    if (blob.size > printBytes) print = await printed(image, file.name);
    image.close();
  } else if (file.type !== "application/pdf" && file.type !== "text/plain") {
    throw new CoreError({ code: "file.type", args: { type: file.type || file.name } });
  }
  if (blob.size === 0 || blob.size > largest) throw new CoreError({ code: "file.size", args: { max: "64" } });
  return {
    hash: await hashOf(blob),
    name: file.name || "photo.jpg",
    type: photo ? "image/jpeg" : file.type,
    size: blob.size,
    blob,
    thumb,
    print,
    state: "waiting",
    at: Date.now(),
  };
}

/** A copy of a photo that is small enough for a report, whatever is on it. */
async function printed(image: ImageBitmap, name: string): Promise<StoredFile> {
  let blob = await drawn(image, printSize, 0.75);
  for (let size = printSize; blob.size > printBytes && size > thumbSize; ) {
    size *= 0.8;
    blob = await drawn(image, size, 0.6);
  }
  return { hash: await hashOf(blob), name: name || "photo.jpg", type: "image/jpeg", size: blob.size, blob, state: "spare", at: Date.now() };
}

/** A photo as pixels, upright, and no larger than it is kept: one that is too large for the first way is scaled while it is read. */
async function bitmap(file: File): Promise<ImageBitmap> {
  if (file.size < largePhoto) {
    const whole = await createImageBitmap(file, { imageOrientation: "from-image" }).catch(() => null);
    if (whole) return whole;
  }
  const url = URL.createObjectURL(file);
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const scale = Math.min(1, photoSize / Math.max(image.naturalWidth, image.naturalHeight));
    return await createImageBitmap(image, {
      resizeWidth: Math.round(image.naturalWidth * scale),
      resizeHeight: Math.round(image.naturalHeight * scale),
      resizeQuality: "high",
    });
  } finally {
    URL.revokeObjectURL(url);
  }
}

export const refOf = (f: StoredFile): FileRef => ({ hash: f.hash, name: f.name.slice(0, 200), type: f.type, size: f.size });

/** What an entry says of a file that was attached. */
export const attachmentOf = (f: StoredFile) => ({ ...refOf(f), print: f.print && refOf(f.print) });

/** An image as JPEG, at most so many pixels wide and high, on white where it was clear. */
function drawn(image: ImageBitmap, size: number, quality: number): Promise<Blob> {
  const scale = Math.min(1, size / Math.max(image.width, image.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(image.width * scale));
  canvas.height = Math.max(1, Math.round(image.height * scale));
  const ink = canvas.getContext("2d");
  if (!ink) throw new CoreError({ code: "device.full" });
  ink.fillStyle = "#fff";
  ink.fillRect(0, 0, canvas.width, canvas.height);
  ink.imageSmoothingQuality = "high";
  ink.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((done, fail) => canvas.toBlob((b) => (b ? done(b) : fail(new CoreError({ code: "device.full" }))), "image/jpeg", quality));
}

export async function hashOf(blob: Blob): Promise<string> {
  const digest = await crypto.subtle.digest("SHA-256", await blob.arrayBuffer());
  return [...new Uint8Array(digest)].map((b) => b.toString(16).padStart(2, "0")).join("");
}

/** How many files are not at the office yet. */
export const waitingFiles = (db: DeviceDB) => db.files.where("state").equals("waiting").count();

/**
 * Sends files whose entries have arrived, the oldest first, and tells of progress with each piece. Rejects when the way is
 * barred; what has arrived stays there.
 */
export async function sendFiles(db: DeviceDB, signal: AbortSignal, progress: () => void): Promise<void> {
  const waiting = await db.files.where("state").equals("waiting").sortBy("at");
  for (const f of waiting) {
    const entry = f.entry && (await db.waiting(f.entry));
    if (entry && !entry.seq && !entry.held) continue; // the entry goes first
    const there = await fetch(`/api/files/${f.hash}`, { method: "HEAD", signal });
    if (there.status === 401) throw new ServerProblem(401, "signin.needed");
    if (!there.ok) await send(db, f, signal, progress);
    await db.files
      .where("hash")
      .equals(f.hash)
      .modify((have) => {
        if (have.state === "waiting") Object.assign(have, { state: "here", upload: undefined });
      });
  }
}

async function send(db: DeviceDB, f: StoredFile, signal: AbortSignal, progress: () => void): Promise<void> {
  try {
    await upload(f, {
      signal,
      onPlace: (place) => void db.files.update(f.hash, { upload: place }),
      onArrived: (sent) => {
        progress();
        void db.files.update(f.hash, { sent });
      },
    });
  } catch (e) {
    if (!(e instanceof ServerProblem) || e.status !== 422) throw e;
    // The office has looked at it whole and can't take it: it stays here, with the reason.
    await db.files.update(f.hash, { state: "refused", upload: undefined, problem: e.problem });
  }
}

interface Listener {
  signal?: AbortSignal;
  /** told where the upload goes on */
  onPlace?: (place: string) => void;
  /** told how many bytes have arrived */
  onArrived?: (bytes: number) => void;
}

/** Sends a file over tus, going on where it was broken off before. Rejects with a ServerProblem when the server says no. */
export async function upload(f: StoredFile, { signal, onPlace, onArrived }: Listener = {}): Promise<void> {
  const { Upload, DetailedError } = await import("tus-js-client");
  await new Promise<void>((done, fail) => {
    const up = new Upload(f.blob, {
      endpoint: "/api/upload/",
      uploadUrl: f.upload,
      chunkSize: pieceSize,
      metadata: { hash: f.hash },
      storeFingerprintForResuming: false,
      retryDelays: [], // whoever sends tries again
      onUploadUrlAvailable: () => up.url && onPlace?.(up.url),
      onChunkComplete: (_, arrived) => onArrived?.(arrived),
      onAfterResponse: (request, response) => {
        // What arrived of a piece that broke off counts too.
        const arrived = request.getMethod() === "HEAD" ? Number(response.getHeader("Upload-Offset")) : 0;
        if (arrived > (f.sent ?? 0)) onArrived?.(arrived);
      },
      onSuccess: () => done(),
      onError: (e) => fail(e),
    });
    signal?.addEventListener("abort", () => void up.abort().then(() => fail(signal.reason)), { once: true });
    up.start();
  }).catch((e) => {
    const response = e instanceof DetailedError ? e.originalResponse : null;
    if (!response) throw e;
    const status = response.getStatus();
    const problem = parsed(response.getBody());
    throw new ServerProblem(status, problem.code ?? (status === 507 ? "server.full" : "server.failed"), problem.args);
  });
}

function parsed(body: string): Partial<Code> {
  try {
    return JSON.parse(body);
  } catch {
    return {}; // not one of our own answers
  }
}

/** Fetches a file of the office's and keeps it, if what comes is what its name says. */
export async function fetchFile(db: DeviceDB, ref: FileRef, signal?: AbortSignal): Promise<StoredFile> {
  const have = await db.files.get(ref.hash);
  if (have) return have;
  const response = await fetch(`/api/files/${ref.hash}`, { signal });
  if (!response.ok) throw new ServerProblem(response.status, response.status === 404 ? "file.not_here" : "server.failed");
  const blob = await response.blob();
  if ((await hashOf(blob)) !== ref.hash) throw new ServerProblem(0, "file.hash");
  const file: StoredFile = { ...ref, blob: blob.slice(0, blob.size, ref.type), state: "here", at: Date.now() };
  await db.files.put(file);
  return file;
}

/** A blank sheet to draw on, kept like a photo. */
export async function blank(name: string): Promise<File> {
  const canvas = document.createElement("canvas");
  canvas.width = 1600;
  canvas.height = 1200;
  const ink = canvas.getContext("2d");
  if (!ink) throw new CoreError({ code: "device.full" });
  ink.fillStyle = "#fff";
  ink.fillRect(0, 0, canvas.width, canvas.height);
  // Squares to draw along, as a notebook has them.
  ink.fillStyle = "#e4e8ea";
  for (let x = 50; x < canvas.width; x += 50) ink.fillRect(x, 0, 1, canvas.height);
  for (let y = 50; y < canvas.height; y += 50) ink.fillRect(0, y, canvas.width, 1);
  // Each is a file of its own, or two sketches would be one.
  ink.fillText(new Date().toISOString(), 8, canvas.height - 8);
  const picture = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/png"));
  return new File([picture ?? new Blob()], `${name}.png`, { type: "image/png" });
}
