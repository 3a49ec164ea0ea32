import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

/** Answers of the household that are kept only to be shown while it cannot be reached; nothing is decided from them. */
const shownOffline = /\/api\/(cleans\/[^/]+(\/photos\/[^/]+|\/ahead)?|counter|household|session|brewers\/[^/]+)$/;

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
          { urlPattern: shownOffline, handler: "NetworkFirst", options: { cacheName: "murlo-answers" } },
        ],
      },
    }),
  ],
  // Fonts stay files, so that the strict content security policy need not allow data: fonts.
  build: { assetsInlineLimit: 0 },
  server: { proxy: { "/api": "http://127.0.0.1:7676" } },
});
