import { type ChildProcess, execFileSync, spawn } from "node:child_process";
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

  /** Where others could reach it, it wants the passcode. */
  async start(reach: "here" | "others" = "here", at = "2026-11-25T10:30:00Z") {
    const port = this.url === "" ? "0" : new URL(this.url).port;
    const listen = `${reach === "here" ? "127.0.0.1" : "0.0.0.0"}:${port}`;
    const program = process.env.MURLO ?? "../target/debug/murlo";
    this.process = spawn(program, ["serve", "--database", this.database, "--listen", listen, "--now", at], {
      stdio: ["ignore", "pipe", "inherit"],
    });
    if (!this.process.stdout) throw new Error("the server has no output");
    for await (const line of createInterface(this.process.stdout)) {
      if (line.startsWith("LISTENING ")) {
        this.url = line.slice("LISTENING ".length).replace("0.0.0.0", "127.0.0.1");
        return;
      }
    }
    throw new Error("the server ended before it listened");
  }

  /** Sets the passcode while the household is not served: every device has to sign in again. */
  setPasscode(passcode: string) {
    const program = process.env.MURLO ?? "../target/debug/murlo";
    execFileSync(program, ["passcode", "--database", this.database], { input: `${passcode}\n` });
  }

  async kill() {
    if (!this.process || this.process.exitCode !== null) return;
    const gone = once(this.process, "exit");
    this.process.kill("SIGKILL");
    await gone;
  }
}
