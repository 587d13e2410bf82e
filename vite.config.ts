import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

/**
 * What the page needs without its server: all of itself, and the last answers to what it asks for on the Shelf, the Bench, the Stand and in
 * the Drills. A newer version waits until the player takes it.
 */
const pwa = VitePWA({
  registerType: "prompt",
  injectRegister: null,
  manifest: {
    name: "Rest Hand",
    short_name: "Rest Hand",
    description: "Works out which strings each hand must damp, so that only the intended notes ring.",
    display: "standalone",
    start_url: "/",
    background_color: "#101614",
    theme_color: "#16211e",
    icons: [192, 512].map((size) => ({ src: `/icon-${size}.png`, sizes: `${size}x${size}`, type: "image/png", purpose: "any" as const })),
  },
  workbox: {
    globPatterns: ["**/*.{js,css,html,svg,woff2}"],
    navigateFallback: "/index.html",
    navigateFallbackDenylist: [/^\/api\//],
    clientsClaim: true,
    cleanupOutdatedCaches: true,
    runtimeCaching: [
      {
        // The function is written into the service worker as it stands.
        urlPattern: ({ url }) =>
          /^\/api\/(me|gifts|teaching|passages(\/[^/]+(\/(summary|limits|next))?)?|instruments|players|practice(\/(standings|takes))?)$/.test(url.pathname),
        handler: "NetworkFirst",
        options: { cacheName: "rest-hand-answers", networkTimeoutSeconds: 8, expiration: { maxEntries: 3000 }, cacheableResponse: { statuses: [200] } },
      },
    ],
  },
});

export default defineConfig({
  root: "src/web",
  build: { outDir: "../../dist", emptyOutDir: true, assetsInlineLimit: 0, sourcemap: false },
  worker: { format: "es" },
  server: {
    port: 5173,
    host: "127.0.0.1",
    proxy: {
      "/api": {
        target: `http://127.0.0.1:${process.env.PORT ?? 4310}`,
        changeOrigin: true,
        // The API refuses foreign origins, and this development server is one.
        configure: (proxy) => proxy.on("proxyReq", (request) => request.removeHeader("origin")),
      },
    },
  },
  plugins: [react(), tailwindcss(), pwa],
});
