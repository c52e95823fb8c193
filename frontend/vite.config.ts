import { brotliCompressSync, gzipSync } from "node:zlib";
import { readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

const target = "../src/tidy_tinder/web/dist";

/** Every text asset also as .br and .gz, so that the server only has to choose. */
function packed(): Plugin {
  const pack = (folder: string) => {
    for (const name of readdirSync(folder)) {
      const path = join(folder, name);
      if (statSync(path).isDirectory()) pack(path);
      else if (/\.(js|css|html|svg|json)$/.test(name)) {
        const content = readFileSync(path);
        writeFileSync(`${path}.br`, brotliCompressSync(content));
        writeFileSync(`${path}.gz`, gzipSync(content, { level: 9 }));
      }
    }
  };
  return { name: "packed", apply: "build", closeBundle: () => pack(target) };
}

export default defineConfig({
  plugins: [react(), packed()],
  build: { outDir: target, emptyOutDir: true, target: "es2022", assetsInlineLimit: 0, manifest: true },
  server: { proxy: { "/api": "http://127.0.0.1:8731" } },
});
