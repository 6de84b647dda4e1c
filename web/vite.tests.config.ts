import { readdirSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { defineConfig } from "vite";

// the unit tests as modules that Node runs; see tests/page_units.py
const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));
// with what of a browser they lean on, which Node loads before them
const units = ["browser.ts", ...readdirSync(here("./tests")).filter((n) => n.endsWith(".test.ts"))];

export default defineConfig({
  resolve: { alias: { "@": here("./src") } },
  build: {
    ssr: true,
    outDir: "node_modules/.page-units",
    emptyOutDir: true,
    rolldownOptions: { input: units.map((name) => here(`./tests/${name}`)) },
  },
});
