import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  // Only components need a page to stand on; the rest is quicker without.
  // A page under load is slow, not wrong.
  test: { include: ["src/**/*.test.{ts,tsx}"], testTimeout: 30_000 },
});
