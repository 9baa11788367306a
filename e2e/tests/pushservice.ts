/** A push service for tests, and the browser that it reaches: what is sent is opened as browsers do (RFC 8291). */
import { createDecipheriv, createECDH, hkdfSync, randomBytes } from "node:crypto";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import type { BrowserContext } from "@playwright/test";

export class PushService {
  readonly messages: { title: string; text: string; visit?: string }[] = [];
  private readonly keys = createECDH("prime256v1");
  private readonly auth = randomBytes(16);
  private server: Server | undefined;

  async start() {
    this.keys.generateKeys();
    this.server = createServer((req, res) => {
      const parts: Buffer[] = [];
      req.on("data", (p) => parts.push(p));
      req.on("end", () => {
        this.messages.push(JSON.parse(this.open(Buffer.concat(parts))));
        res.writeHead(201).end();
      });
    });
    await new Promise<void>((done) => this.server!.listen(0, "127.0.0.1", done));
  }

  stop() {
    this.server?.close();
  }

  /**
   * Has the pages of a browser be given an address here when they ask for one: a browser of the tests knows no push service, and allows no
   * notifications.
   */
  async serve(context: BrowserContext) {
    const { port } = this.server!.address() as AddressInfo;
    await context.addInitScript(
      ([endpoint, p256dh, auth]) => {
        const bytes = (hex: string) => Uint8Array.from(hex.match(/../g) ?? [], (h) => Number.parseInt(h, 16)).buffer;
        Object.defineProperty(Notification, "permission", { get: () => "granted" });
        let address: object | null = null;
        PushManager.prototype.subscribe = async (options) => {
          const applicationServerKey = (options?.applicationServerKey as Uint8Array | undefined)?.buffer;
          address = { endpoint, options: { applicationServerKey }, getKey: (n: string) => bytes(n === "auth" ? auth : p256dh), unsubscribe: async () => true };
          return address as PushSubscription;
        };
        PushManager.prototype.getSubscription = async () => address as PushSubscription | null;
      },
      [`http://127.0.0.1:${port}/phone`, this.keys.getPublicKey("hex"), this.auth.toString("hex")],
    );
  }

  private open(body: Buffer): string {
    const salt = body.subarray(0, 16);
    const sender = body.subarray(21, 21 + body[20]);
    const sealed = body.subarray(21 + body[20]);
    const derive = (from: Buffer, salt: Buffer, info: string | Buffer, length: number) => Buffer.from(hkdfSync("sha256", from, salt, info, length));
    const info = Buffer.concat([Buffer.from("WebPush: info\0"), this.keys.getPublicKey(), sender]);
    const input = derive(this.keys.computeSecret(sender), this.auth, info, 32);
    const cipher = createDecipheriv(
      "aes-128-gcm",
      derive(input, salt, "Content-Encoding: aes128gcm\0", 16),
      derive(input, salt, "Content-Encoding: nonce\0", 12),
    );
    cipher.setAuthTag(sealed.subarray(-16));
    const plain = Buffer.concat([cipher.update(sealed.subarray(0, -16)), cipher.final()]);
    return plain.subarray(0, plain.lastIndexOf(2)).toString();
  }
}
