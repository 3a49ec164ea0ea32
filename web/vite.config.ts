import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** Writes the service worker with the list of files it keeps; a changed list is a new edition. */
function worker(): Plugin {
  return {
    name: "worker",
    apply: "build",
    generateBundle(_, bundle) {
      const files = ["/", "/mark.svg", ...Object.keys(bundle).map((name) => `/${name}`)].filter(
        (name) => name !== "/index.html" && !name.endsWith(".map"),
      );
      const list = JSON.stringify(files);
      const edition = createHash("sha256").update(list).digest("hex").slice(0, 12);
      const source = readFileSync("src/worker.js", "utf8").replace("__FILES__", list).replace("__EDITION__", edition);
      this.emitFile({ type: "asset", fileName: "worker.js", source });
    },
  };
}

export default defineConfig({
  plugins: [react(), worker()],
  // Fonts stay files, so that the strict content security policy need not allow data: fonts.
  build: { assetsInlineLimit: 0 },
  server: { proxy: { "/api": "http://127.0.0.1:7676" } },
});
