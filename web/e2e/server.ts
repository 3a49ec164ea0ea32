import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createInterface } from "node:readline";

const program = process.env.MURLO ?? "../target/debug/murlo";

/** A real server of its own household; can be killed the hard way and started again on the same address and file. */
export class Household {
  readonly database = join(mkdtempSync(join(tmpdir(), "murlo-e2e-")), "home.db");
  url = "";
  /** What takes the first device in, where it is served for the phones of a home. */
  code = "";
  private process: ChildProcess | undefined;

  /** Where others could reach it, it wants the passcode. */
  async start(reach: "here" | "others" = "here", at = "2026-11-25T10:30:00Z") {
    const port = this.url === "" ? "0" : new URL(this.url).port;
    const listen = `${reach === "here" ? "127.0.0.1" : "0.0.0.0"}:${port}`;
    await this.run(["serve", "--database", this.database, "--listen", listen, "--now", at]);
  }

  /** For the phones of a home: by HTTPS, under an authority of its own. */
  startForPhones(at = "2026-11-25T10:30:00Z") {
    return this.run(["serve", "--home", "--database", this.database, "--listen", "127.0.0.1:0", "--now", at], "Code: ");
  }

  /** The certificate of that authority. */
  get authority() {
    return this.database.replace(/home\.db$/, "home-authority/authority.pem");
  }

  /** The made-up homes instead, on a database of their own. */
  startDemo(at = "2026-11-25T10:30:00Z") {
    return this.run(["demo", "--listen", "127.0.0.1:0", "--now", at]);
  }

  /** Until its last line is told. */
  private async run(told: string[], last = "LISTENING ") {
    this.process = spawn(program, told, { stdio: ["ignore", "pipe", "inherit"] });
    if (!this.process.stdout) throw new Error("the server has no output");
    for await (const line of createInterface(this.process.stdout)) {
      if (line.startsWith("LISTENING ")) {
        this.url = line.slice("LISTENING ".length).replace("0.0.0.0", "127.0.0.1");
      }
      if (line.startsWith("Code: ")) this.code = line.split(" ")[1] ?? "";
      if (line.startsWith(last)) return;
    }
    throw new Error("the server ended before it listened");
  }

  /** Sets the passcode while the household is not served: every device has to sign in again. */
  setPasscode(passcode: string) {
    execFileSync(program, ["passcode", "--database", this.database], { input: `${passcode}\n` });
  }

  async kill() {
    if (!this.process || this.process.exitCode !== null) return;
    const gone = once(this.process, "exit");
    this.process.kill("SIGKILL");
    await gone;
  }
}
