import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createInterface } from "node:readline";

/** A real server of its own household; can be killed the hard way and started again on the same address and file. */
export class Household {
  readonly database = join(mkdtempSync(join(tmpdir(), "murlo-e2e-")), "home.db");
  url = "";
  private process: ChildProcess | undefined;

  async start() {
    const listen = this.url === "" ? "127.0.0.1:0" : new URL(this.url).host;
    const program = process.env.MURLO ?? "../target/debug/murlo";
    const now = process.env.MURLO_NOW ?? "2026-11-25T10:30:00Z";
    this.process = spawn(program, ["serve", "--database", this.database, "--listen", listen, "--now", now], {
      stdio: ["ignore", "pipe", "inherit"],
    });
    if (!this.process.stdout) throw new Error("the server has no output");
    for await (const line of createInterface(this.process.stdout)) {
      if (line.startsWith("LISTENING ")) {
        this.url = line.slice("LISTENING ".length);
        return;
      }
    }
    throw new Error("the server ended before it listened");
  }

  async kill() {
    if (!this.process || this.process.exitCode !== null) return;
    const gone = once(this.process, "exit");
    this.process.kill("SIGKILL");
    await gone;
  }
}
