import { readdirSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vite";

// the unit tests as modules that Node runs; see tests/page_units.py
const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const units = readdirSync(here("./tests")).filter((name) => name.endsWith(".test.ts"));

export default defineConfig({
  resolve: { alias: { "@": here("./src") } },
  build: {
    ssr: true,
    outDir: "node_modules/.page-units",
    emptyOutDir: true,
    rolldownOptions: { input: units.map((name) => here(`./tests/${name}`)) },
  },
});
