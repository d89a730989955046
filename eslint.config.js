import js from "@eslint/js";
import globals from "globals";

export default [
  { ignores: ["**/vendor/**", "node_modules/**", ".venv/**"] },
  {
    files: ["yellow_sill/web/**/static/**/*.js", "tests/js/*.js"],
    ...js.configs.recommended,
    languageOptions: { ecmaVersion: 2025, sourceType: "module", globals: globals.browser },
    rules: {
      ...js.configs.recommended.rules,
      "no-unused-vars": "error",
      "prefer-const": "error",
      eqeqeq: ["error", "always", { null: "ignore" }],
    },
  },
];
