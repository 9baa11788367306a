/** A network between a browser and the program that fails as networks do. */
import { connect, createServer, type Server, type Socket } from "node:net";
import { freePort } from "./program.js";

export class Network {
  /** how many more uploads are broken off, each after so many bytes */
  breaks = 0;
  after = 700_000;
  /** how many more sync requests are cut in the middle of their body, and how many answers */
  cutRequests = 0;
  cutAnswers = 0;
  /** nothing gets through */
  private barred = false;
  private server: Server | undefined;
  private sockets = new Set<Socket>();
  broken = 0;

  private readonly port = freePort();
  constructor(private readonly to: number) {}

  get url() {
    return `http://127.0.0.1:${this.port}`;
  }

  open() {
    const server = createServer((client) => this.carry(client));
    this.server = server;
    return new Promise<void>((done) => server.listen(this.port, "127.0.0.1", done));
  }

  /** Bars the way, or opens it again. */
  bar(barred: boolean) {
    this.barred = barred;
    if (barred) for (const s of this.sockets) s.destroy();
  }

  close() {
    this.bar(true);
    this.server?.close();
  }

  private carry(client: Socket) {
    if (this.barred) return void client.destroy();
    const server = connect(this.to, "127.0.0.1");
    const both = [client, server];
    const end = () => {
      for (const s of both) {
        s.destroy();
        this.sockets.delete(s);
      }
    };
    const cut = () => {
      this.broken++;
      end();
    };
    for (const s of both) {
      this.sockets.add(s);
      s.on("error", end).on("close", end);
    }
    let uploading = 0;
    let syncing = false;
    client.on("data", (chunk) => {
      const head = chunk.toString("latin1", 0, 200);
      syncing = head.startsWith("POST /api/sync") || (syncing && !/^(GET|POST|HEAD|PATCH) /.test(head));
      if (syncing && this.cutRequests > 0) {
        this.cutRequests--;
        server.write(chunk.subarray(0, chunk.length - 40), cut);
        return;
      }
      if (head.startsWith("PATCH /api/upload")) uploading ||= 1;
      if (uploading) uploading += chunk.length;
      if (uploading > this.after && this.breaks > 0) {
        this.breaks--;
        server.write(chunk.subarray(0, 1000), cut);
        return;
      }
      if (!server.write(chunk)) {
        client.pause();
        server.once("drain", () => client.resume());
      }
    });
    server.on("data", (chunk) => {
      if (syncing && this.cutAnswers > 0) {
        this.cutAnswers--;
        client.write(chunk.subarray(0, Math.floor(chunk.length / 2)), cut);
        return;
      }
      client.write(chunk);
    });
  }
}
