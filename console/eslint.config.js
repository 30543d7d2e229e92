import babel from "@babel/eslint-parser";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";

// Types are the compiler's work; this looks at hooks and at what keeps people out.
export default [
  { ignores: ["dist", "tools", "src/api/schema.d.ts"] },
  {
    files: ["src/**/*.{ts,tsx}"],
    languageOptions: {
      parser: babel,
      parserOptions: {
        requireConfigFile: false,
        babelOptions: { presets: ["@babel/preset-typescript", "@babel/preset-react"] },
      },
    },
    plugins: { "react-hooks": hooks, "jsx-a11y": a11y },
    rules: {
      ...a11y.flatConfigs.recommended.rules,
      // A page with one field to begin with begins there; what is no element is judged where it becomes one.
      "jsx-a11y/no-autofocus": ["error", { ignoreNonDOM: true }],
      // What scrolls has to be reachable by keyboard (WCAG 2.1, 2.1.1), whatever element it is.
      "jsx-a11y/no-noninteractive-tabindex": "off",
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "error",
    },
  },
];
