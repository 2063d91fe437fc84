import { svelte } from "@sveltejs/vite-plugin-svelte";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
  build: {
    outDir: "../ferox/web/static",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    // A component of Flowbite imports the index of them all. What is imported and not used can go:
    // nothing there does more than define components and their classes.
    rollupOptions: {
      treeshake: { moduleSideEffects: (id) => !id.includes("/flowbite-svelte/dist/") },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8640" } },
});
