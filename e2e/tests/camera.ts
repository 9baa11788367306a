/** A camera that shows one picture: what a browser takes for its camera's feed. */
import { writeFileSync } from "node:fs";
import { type Browser, chromium, type Page } from "@playwright/test";
import { chromium as launch } from "../playwright.config.js";

const [width, height] = [640, 480];

/** Writes a label of the program as a film that a browser's camera plays, as grey YUV 4:2:0 frames. */
export async function film(page: Page, label: string, file: string) {
  const grey = await page.evaluate(
    async ({ label, width, height }) => {
      const image = await createImageBitmap(await (await fetch(label)).blob());
      const canvas = new OffscreenCanvas(width, height);
      const ink = canvas.getContext("2d")!;
      ink.fillStyle = "#fff";
      ink.fillRect(0, 0, width, height);
      ink.drawImage(image, Math.round((width - image.width) / 2), Math.round((height - image.height) / 2));
      const { data } = ink.getImageData(0, 0, width, height);
      return Array.from({ length: width * height }, (_, i) => data[i * 4]);
    },
    { label, width, height },
  );
  const frame = Buffer.concat([Buffer.from("FRAME\n"), Buffer.from(grey), Buffer.alloc((width * height) / 2, 128)]);
  const head = Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420jpeg\n`);
  writeFileSync(file, Buffer.concat([head, ...Array.from({ length: 10 }, () => frame)]));
}

/** A browser whose camera plays a film. */
export const withCamera = (file: string): Promise<Browser> =>
  chromium.launch({
    ...launch,
    args: [...launch.args, "--use-fake-ui-for-media-stream", "--use-fake-device-for-media-stream", `--use-file-for-fake-video-capture=${file}`],
  });
