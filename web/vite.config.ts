import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";
import { faces } from "./faces";

export default defineConfig({
  plugins: [
    faces(),
    react(),
    tailwindcss(),
    // The page itself, for a device without a connection; answers of the server are kept by the page (src/device).
    VitePWA({
      injectRegister: null,
      workbox: {
        globPatterns: ["**/*.{js,css,html,woff2,svg}"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//],
      },
      manifest: {
        name: "Outrigger",
        short_name: "Outrigger",
        description: "Rope rescue rigging on one working sheet.",
        display: "standalone",
        start_url: "/plans",
        background_color: "#ffffff",
        theme_color: "#1b1f1d",
        icons: [{ src: "/mark.svg", sizes: "any", type: "image/svg+xml" }],
      },
    }),
  ],
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
});
