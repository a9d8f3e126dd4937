import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

// A sheet that is imported stays, whether its names are spoken of through the import or written out.
const sheetsStay: Plugin = {
  name: "sheets-stay",
  enforce: "post",
  transform: (code, id) =>
    id.endsWith(".module.css") ? { code, map: null, moduleSideEffects: "no-treeshake" } : null,
};

export default defineConfig({
  plugins: [react(), sheetsStay],
  // Names stay as they are written, so that tests and people find them; a test holds each class to one sheet.
  css: { modules: { generateScopedName: "[local]" } },
  build: { outDir: "../src/dravel/api/pages", emptyOutDir: true, chunkSizeWarningLimit: 900 },
  server: { fs: { allow: [".."] }, proxy: { "/api": "http://127.0.0.1:8765" } },
});
