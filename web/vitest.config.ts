import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

const here = fileURLToPath(new URL(".", import.meta.url));

export default defineConfig({
  root: here,
  resolve: {
    alias: {
      "@": `${here}src`,
      vitest: `${here}node_modules/vitest`,
      "fake-indexeddb": `${here}node_modules/fake-indexeddb`,
    },
  },
  server: { fs: { allow: [".."] } },
  test: { include: ["../tests/web/**/*.test.ts"], environment: "node", testTimeout: 30_000 },
});
