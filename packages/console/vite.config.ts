import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defaultClientConditions, defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  resolve: { conditions: ["orisma-source", ...defaultClientConditions] },
  build: { outDir: "dist", emptyOutDir: true, target: "es2022" },
});
