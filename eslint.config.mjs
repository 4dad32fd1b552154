import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["node_modules", ".next", "dist", "public", "assembly", "next-env.d.ts", ".data", ".cache"] },
  ...tseslint.configs.recommended,
  {
    files: ["src/**/*.ts", "src/**/*.tsx", "e2e/**/*.ts"],
    plugins: { "react-hooks": reactHooks },
    rules: {
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "error",
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
      "no-console": ["error", { allow: ["error", "log"] }],
      eqeqeq: ["error", "always", { null: "ignore" }],
      "no-restricted-globals": ["off"],
    },
  },
  {
    // The core is computation alone.
    files: ["src/core/**/*.ts"],
    rules: { "no-restricted-globals": ["error", "window", "document", "process", "Buffer", "localStorage", "fetch"] },
  },
  { files: ["src/core/**/*.test.ts"], rules: { "no-restricted-globals": "off" } },
);
