import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync } from "node:zlib";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { VitePWA } from "vite-plugin-pwa";

const OUT = join(import.meta.dirname, "dist");
/** Where ./incudo dev runs the server. */
const SERVER = process.env.INCUDO_DEV_SERVER ?? "http://127.0.0.1:8420";

/** Packs what compresses beside the files, for the server to hand out as they are. */
function packed(): Plugin {
  return {
    name: "packed",
    apply: "build",
    enforce: "post",
    closeBundle: {
      order: "post",
      sequential: true,
      handler() {
        for (const entry of readdirSync(OUT, { withFileTypes: true, recursive: true })) {
          if (!entry.isFile() || !/\.(js|css|html|svg|json)$/.test(entry.name)) continue;
          const file = join(entry.parentPath, entry.name);
          writeFileSync(`${file}.br`, brotliCompressSync(readFileSync(file)));
        }
      },
    },
  };
}

export default defineConfig({
  plugins: [
    react(),
    VitePWA({
      strategies: "injectManifest",
      srcDir: "src",
      filename: "sw.ts",
      injectRegister: false,
      manifest: false,
      injectManifest: {
        // old woff copies and scripts outside Latin are never asked for
        globPatterns: ["index.html", "mark.svg", "assets/*.{js,css}", "assets/*latin-[0-9]*.woff2"],
        globIgnores: ["**/*latin-ext*"],
        maximumFileSizeToCacheInBytes: 3_000_000,
      },
    }),
    packed(),
  ],
  build: { chunkSizeWarningLimit: 900 },
  server: { proxy: { "/api": SERVER } },
});
