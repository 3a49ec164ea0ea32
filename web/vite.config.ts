import { readFileSync } from "node:fs";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

/** Answers that are kept only to be shown while the household cannot be reached, as the API marks them; nothing is decided from them. */
const paths: Record<string, { get?: { tags?: string[] } }> = JSON.parse(readFileSync("openapi.json", "utf8")).paths;
const kept = Object.keys(paths).filter((path) => paths[path]?.get?.tags?.includes("shown offline"));
const shownOffline = new RegExp(`(${kept.map((path) => path.replace(/\{[^}]+\}/g, "[^/]+")).join("|")})(\\?.*)?$`);

export default defineConfig({
  plugins: [
    react(),
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
  build: { assetsInlineLimit: 0 },
  server: { proxy: { "/api": "http://127.0.0.1:7676" } },
});
