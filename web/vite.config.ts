import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { brotliCompressSync, gzipSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** Beside every file that packs well lie its packed forms: the application sends them as they are. */
const packed = (): Plugin => ({
  name: "packed",
  closeBundle() {
    for (const name of readdirSync("dist/assets").filter((file) => /\.(?:js|css|svg)$/.test(file))) {
      const body = readFileSync(`dist/assets/${name}`);
      writeFileSync(`dist/assets/${name}.br`, brotliCompressSync(body));
      writeFileSync(`dist/assets/${name}.gz`, gzipSync(body, { level: 9 }));
    }
  },
});

export default defineConfig({
  plugins: [react(), tailwindcss(), packed()],
  server: { proxy: { "/api": "http://127.0.0.1:8710" } },
  build: { chunkSizeWarningLimit: 700 },
});
