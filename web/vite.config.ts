import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { chunkSizeWarningLimit: 900 },
  // a test waits for what it expects, however busy the machine is
  test: { setupFiles: ["src/testing/setup.ts"], testTimeout: 60_000 },
  server: { proxy: { "/api": "http://127.0.0.1:8410" } },
});
