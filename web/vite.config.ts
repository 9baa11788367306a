import { readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { VitePWA } from "vite-plugin-pwa";

const out = "../cmd/iter/dist";

/** Packs each file once, when it is built, so that the server never has to. */
function precompress(): Plugin {
  const pack = (dir: string) => {
    for (const name of readdirSync(dir)) {
      const path = join(dir, name);
      if (statSync(path).isDirectory()) pack(path);
      else if (/\.(m?js|css|svg|wasm|json|webmanifest)$/.test(name)) {
        const raw = readFileSync(path);
        if (raw.length < 1024) continue;
        writeFileSync(`${path}.gz`, gzipSync(raw, { level: 9 }));
        const quality = raw.length > 1 << 20 ? 9 : 11;
        writeFileSync(`${path}.br`, brotliCompressSync(raw, { params: { [constants.BROTLI_PARAM_QUALITY]: quality } }));
      }
    }
  };
  return { name: "precompress", apply: "build", enforce: "post", closeBundle: { order: "post", sequential: true, handler: () => pack(out) } };
}

export default defineConfig({
  plugins: [
    react(),
    VitePWA({
      injectRegister: false,
      filename: "sw.js",
      manifest: {
        name: "Iter",
        short_name: "Iter",
        description: "Field service that works with no signal",
        start_url: "/",
        display: "standalone",
        background_color: "#f3efe6",
        theme_color: "#182126",
        icons: [
          { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png", purpose: "any maskable" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{js,mjs,css,html,svg,png,woff2,wasm}"],
        globIgnores: ["**/Office*", "**/office*.wasm"],
        importScripts: ["/announce.js"],
        maximumFileSizeToCacheInBytes: 16 << 20,
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//, /^\/calendar\//, /^\/metrics/, /^\/healthz/],
      },
    }),
    precompress(),
  ],
  define: { __VERSION__: JSON.stringify(process.env.ITER_VERSION ?? "unstamped") },
  html: { cspNonce: "__NONCE__" },
  build: {
    outDir: out,
    emptyOutDir: true,
    target: "es2022",
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    rolldownOptions: {
      // What the office's screens alone use is told by its name: phones do not keep it. Nothing of the field's is in a file with something of the office's.
      output: { chunkFileNames: (chunk) => `assets/${chunk.moduleIds.some((id) => id.includes("/src/office/")) ? "Office" : ""}[name]-[hash].js` },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8420" } },
});
