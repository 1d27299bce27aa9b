import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync } from "node:zlib";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

const OUT = join(import.meta.dirname, "dist");

/** Lists the built files for the service worker and packs what compresses. */
function afterBuild(): Plugin {
  return {
    name: "after-build",
    closeBundle() {
      const assets = readdirSync(join(OUT, "assets"));
      // old woff copies and scripts outside Latin are never asked for
      const kept = assets.filter((name) => /\.(js|css)$|latin-.*\.woff2$/.test(name) && !/latin-ext/.test(name));
      const files = ["/", "/mark.svg", ...kept.map((name) => `/assets/${name}`)];
      writeFileSync(join(OUT, "files.json"), JSON.stringify(files));
      for (const name of ["index.html", "sw.js", ...assets.map((a) => join("assets", a))]) {
        if (!/\.(js|css|html|svg)$/.test(name)) continue;
        writeFileSync(join(OUT, `${name}.br`), brotliCompressSync(readFileSync(join(OUT, name))));
      }
    },
  };
}

export default defineConfig({
  plugins: [react(), afterBuild()],
  build: {
    chunkSizeWarningLimit: 900,
    rollupOptions: {
      input: { index: "index.html", sw: "src/sw.ts" },
      output: { entryFileNames: (chunk) => (chunk.name === "sw" ? "sw.js" : "assets/[name]-[hash].js") },
    },
  },
});
