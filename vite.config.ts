import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

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
  plugins: [react(), tailwindcss()],
});
