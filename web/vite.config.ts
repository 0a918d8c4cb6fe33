import { fileURLToPath } from "node:url";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { compression } from "vite-plugin-compression2";

const SERVICE = "http://127.0.0.1:8512";

export default defineConfig({
  plugins: [react(), compression({ algorithms: ["brotliCompress"], include: /\.(js|css|svg|html)$/, threshold: 500 })],
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  build: { target: "es2022", chunkSizeWarningLimit: 2000 },
  server: {
    host: "127.0.0.1",
    port: 8513,
    proxy: {
      "/api": {
        target: SERVICE,
        changeOrigin: true,
        // The service takes requests of its own page alone: this server's page stands for it, no other one.
        configure: (proxy) =>
          proxy.on("proxyReq", (out, asked) => {
            if (asked.headers.origin === `http://${asked.headers.host}`) out.setHeader("origin", SERVICE);
          }),
      },
    },
  },
});
