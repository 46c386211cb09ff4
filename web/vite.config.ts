import { fileURLToPath } from "node:url";
import vue from "@vitejs/plugin-vue";
import { defineConfig, type HtmlTagDescriptor, type Plugin } from "vite";

/**
 * The first screen's own code and style are fetched beside the frame's, not after them; and what is asked early is asked
 * by a script of its own, which waits for nothing.
 */
const firstScreen: Plugin = {
  name: "first-screen",
  transformIndexHtml: {
    order: "post",
    handler(html, { bundle }) {
      const made = Object.values(bundle ?? {}).flatMap((file) => (file.type === "chunk" ? [file] : []));
      const screen = made.find((chunk) => chunk.facadeModuleId?.endsWith("BuildsScreen.vue"));
      const early = made.find((chunk) => chunk.name === "early");
      if (!screen || !early) return [];
      const all = [screen, ...made.filter((chunk) => screen.imports.includes(chunk.fileName))];
      const links = [
        ...all.map((chunk) => ({ rel: "modulepreload", crossorigin: true, href: `/${chunk.fileName}` })),
        ...all
          .flatMap((chunk) => [...(chunk.viteMetadata?.importedCss ?? [])])
          .map((style) => ({ rel: "stylesheet", crossorigin: true, href: `/${style}` })),
      ];
      const script = { type: "module", crossorigin: true, src: `/${early.fileName}` };
      return [
        { tag: "script", attrs: script, injectTo: "head-prepend" },
        ...links.filter((x) => !html.includes(x.href)).map((attrs) => ({ tag: "link", attrs, injectTo: "head" })),
      ] as HtmlTagDescriptor[];
    },
  },
};

export default defineConfig({
  plugins: [vue(), firstScreen],
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  server: { proxy: { "/api": "http://127.0.0.1:8765" } },
  build: {
    target: "es2022",
    chunkSizeWarningLimit: 900,
    assetsInlineLimit: 0,
    rollupOptions: { output: { manualChunks: (id) => (id.endsWith("src/api/early.ts") ? "early" : undefined) } },
  },
});
