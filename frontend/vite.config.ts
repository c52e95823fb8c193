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

/** The first station's scripts and styles are fetched beside the application's, not after it has been run. */
function firstStation(): Plugin {
  const station = /features\/tidy\/page\.tsx$/;
  return {
    name: "first-station",
    apply: "build",
    transformIndexHtml: {
      order: "post",
      handler: (_html, { bundle }) => {
        const chunks = Object.values(bundle ?? {}).filter((one) => one.type === "chunk");
        const page = chunks.find((chunk) => station.test(chunk.facadeModuleId ?? ""));
        const entry = chunks.find((chunk) => chunk.isEntry);
        const files = new Set([page?.fileName, ...(page?.imports ?? [])].filter((file) => file !== undefined));
        for (const there of [entry?.fileName, ...(entry?.imports ?? [])]) files.delete(there ?? "");
        return [...files].map((file) => ({ tag: "link", attrs: { rel: "modulepreload", href: `/${file}`, crossorigin: true } }));
      },
    },
  };
}

export default defineConfig({
  plugins: [react(), packed(), firstStation()],
  build: { outDir: target, emptyOutDir: true, target: "es2022", assetsInlineLimit: 0, manifest: true },
  server: { proxy: { "/api": "http://127.0.0.1:8731" } },
});
