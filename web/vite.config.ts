import { readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** compressed puts beside each text file of the build the same, compressed: the server sends them as they are. */
function compressed(): Plugin {
  let folder = "";
  return {
    name: "compressed",
    apply: "build",
    configResolved: (config) => {
      folder = config.build.outDir;
    },
    closeBundle: () => {
      for (const name of readdirSync(folder, { recursive: true, encoding: "utf8" })) {
        const path = join(folder, name);
        if (!/\.(js|css|html|svg)$/.test(name) || statSync(path).size < 1024) continue;
        const text = readFileSync(path);
        writeFileSync(`${path}.gz`, gzipSync(text, { level: 9 }));
        writeFileSync(`${path}.br`, brotliCompressSync(text, { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } }));
      }
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), compressed()],
  build: { emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 900, modulePreload: { polyfill: false } },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
});
