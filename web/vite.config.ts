import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { createHash } from "node:crypto";
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { brotliCompressSync, gzipSync } from "node:zlib";
import { defineConfig, type Plugin } from "vite";

const OUT = fileURLToPath(new URL("../yellowbath/web_dist", import.meta.url));

/** Beside each built file that shrinks its brotli and its gzip: made once, served as they are. */
const packed: Plugin = {
  name: "packed",
  apply: "build",
  closeBundle() {
    for (const name of readdirSync(`${OUT}/assets`)) {
      if (!/\.(js|css)$/.test(name)) continue;
      const file = `${OUT}/assets/${name}`;
      const whole = readFileSync(file);
      writeFileSync(`${file}.br`, brotliCompressSync(whole));
      writeFileSync(`${file}.gz`, gzipSync(whole, { level: 9 }));
    }
  },
};

/** What stands beside the page is named by what it holds too, so that it is not asked for again. */
const named: Plugin = {
  name: "named",
  transformIndexHtml: (html) =>
    html.replace(/"\/(first\.js|icon\.svg)"/g, (_, name: string) => {
      const held = readFileSync(new URL(`public/${name}`, import.meta.url));
      return `"/${name}?v=${createHash("sha256").update(held).digest("hex").slice(0, 8)}"`;
    }),
};

export default defineConfig({
  plugins: [react(), tailwindcss(), named, packed],
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  build: { outDir: OUT, emptyOutDir: true },
  server: { proxy: { "/api": "http://127.0.0.1:8650" } },
});
