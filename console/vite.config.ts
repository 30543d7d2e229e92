import { gzipSync } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** What a browser has to fetch before the first page stands, compressed; the build fails above it. */
const FIRST_LIMIT = 220 * 1024;

/** All code of the console, compressed. */
const ALL_LIMIT = 480 * 1024;

/** Says how large the console is, and keeps it from growing unseen. */
function sizes(): Plugin {
  return {
    name: "sizes",
    generateBundle(_, bundle) {
      const chunks = Object.values(bundle).filter((each) => each.type === "chunk");
      const size = (code: string) => gzipSync(code).length;
      const wanted = new Set(chunks.filter((each) => each.isEntry).map((each) => each.fileName));
      for (const name of wanted) {
        const chunk = chunks.find((each) => each.fileName === name);
        chunk?.imports.forEach((each) => wanted.add(each));
      }
      const total = (some: typeof chunks) => some.reduce((sum, each) => sum + size(each.code), 0);
      const first = total(chunks.filter((each) => wanted.has(each.fileName)));
      const all = total(chunks);
      const kb = (bytes: number) => `${Math.round(bytes / 1024)} KB`;
      console.log(
        `The console: ${kb(first)} of ${kb(FIRST_LIMIT)} before the first page, ${kb(all)} of ${kb(ALL_LIMIT)} in all (compressed).`,
      );
      if (first > FIRST_LIMIT || all > ALL_LIMIT) this.error("The console has grown beyond its limit.");
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), sizes()],
  build: { outDir: "dist", chunkSizeWarningLimit: 1500 },
  server: { proxy: { "/api": "http://127.0.0.1:7480" } },
});
