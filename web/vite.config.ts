import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, gzipSync } from "node:zlib";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { VitePWA } from "vite-plugin-pwa";
import views from "./views.json" with { type: "json" };

/** Answers that are kept only to be shown while the household cannot be reached, as the API marks them; nothing is decided from them. */
const paths: Record<string, { get?: { tags?: string[] } }> = JSON.parse(readFileSync("openapi.json", "utf8")).paths;
const kept = Object.keys(paths).filter((path) => paths[path]?.get?.tags?.includes("shown offline"));
const shownOffline = new RegExp(`(${kept.map((path) => path.replace(/\{[^}]+\}/g, "[^/]+")).join("|")})(\\?.*)?$`);

/** Tells the server which files each view of `views.json` is made of, so that a page can name them before they are missed. */
function filesOfViews(): Plugin {
  return {
    name: "files-of-views",
    apply: "build",
    generateBundle(_, bundle) {
      const chunks = Object.values(bundle).filter((file) => file.type === "chunk");
      const at = (name: string) => chunks.find((chunk) => chunk.fileName === name);
      const start = new Set<string>();
      const withImports = (name: string, seen: Set<string>) => {
        if (seen.has(name)) return;
        seen.add(name);
        for (const needed of at(name)?.imports ?? []) withImports(needed, seen);
      };
      for (const chunk of chunks) if (chunk.isEntry) withImports(chunk.fileName, start);
      const of = views.views.map(({ module, ...view }) => {
        const own = chunks.find((chunk) => chunk.moduleIds.some((id) => id.endsWith(`/${module}`)));
        if (!own) this.error(`views.json names ${module}, which is in no chunk`);
        const files = new Set<string>();
        withImports(own.fileName, files);
        return { ...view, files: [...files].filter((file) => !start.has(file)).map((file) => `/${file}`) };
      });
      // Those that nearly every word is set in; without them it is set twice.
      const fonts = Object.keys(bundle).filter((name) => name.includes("-latin-wght-normal-"));
      const source = JSON.stringify({ ...views, fonts: fonts.map((name) => `/${name}`), views: of });
      this.emitFile({ type: "asset", fileName: "views.json", source });
    },
  };
}

/** Lays each text beside itself as it travels: the program then serves what was compressed once, as well as can be. */
function compressed(): Plugin {
  let folder = "dist";
  return {
    name: "compressed",
    apply: "build",
    enforce: "post",
    configResolved(config) {
      folder = join(config.root, config.build.outDir);
    },
    closeBundle: {
      order: "post",
      sequential: true,
      handler() {
        for (const name of readdirSync(folder, { recursive: true, encoding: "utf8" })) {
          if (!/\.(js|css|svg|webmanifest)$/.test(name)) continue;
          const text = readFileSync(join(folder, name));
          writeFileSync(join(folder, `${name}.br`), brotliCompressSync(text));
          writeFileSync(join(folder, `${name}.gz`), gzipSync(text, { level: 9 }));
        }
      },
    },
  };
}

/** What everybody loads at once, what several views share, and the pickers that few need: a view is then a few files, not twenty. */
const ofPickers = /x-date-pickers|dayjs|ui\/(DayPicker|TimePicker|pickers)/;
const groups = [
  { name: "start", tags: ["$initial" as const], priority: 3 },
  { name: "shared", test: (id: string) => !ofPickers.test(id), minShareCount: 2, priority: 2 },
  { name: "pickers", test: ofPickers, priority: 1 },
];

export default defineConfig({
  plugins: [
    react(),
    filesOfViews(),
    compressed(),
    VitePWA({
      registerType: "autoUpdate",
      injectRegister: false,
      filename: "worker.js",
      manifest: {
        name: "Murlo",
        short_name: "Murlo",
        description: "Descaling coffee brewers and clearing their needles, step by step",
        theme_color: "#f3f6f3",
        background_color: "#f3f6f3",
        icons: [{ src: "/mark.svg", sizes: "any", type: "image/svg+xml" }],
      },
      workbox: {
        globPatterns: ["**/*.{js,css,html,svg,woff2}"],
        navigateFallbackDenylist: [/^\/api\//],
        skipWaiting: true,
        clientsClaim: true,
        runtimeCaching: [
          {
            urlPattern: shownOffline,
            handler: "NetworkFirst",
            options: { cacheName: "murlo-answers", expiration: { maxEntries: 500 } },
          },
        ],
      },
    }),
  ],
  // Fonts stay files, so that the strict content security policy need not allow data: fonts.
  build: {
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 750,
    rolldownOptions: { output: { codeSplitting: { groups } } },
  },
  server: { proxy: { "/api": "http://127.0.0.1:7676" } },
});
