// The recommended rules over the scripts that ship. Types are checked by tsc, so that names need no second check there.
import js from "@eslint/js";
import globals from "globals";

export default [
  {
    files: ["internal/web/**/*.js"],
    ignores: ["internal/web/assets/files/alpine.js", "internal/web/**/dist/**"],
    ...js.configs.recommended,
    languageOptions: { globals: { ...globals.browser, Alpine: "readonly" } },
  },
  { files: ["internal/web/run/sw.js", "internal/web/run/worker.js", "internal/web/household/sw.js"], languageOptions: { globals: { ...globals.serviceworker, ...globals.worker, Go: "readonly" } } },
  { files: ["internal/web/homework/file/*.js"], languageOptions: { globals: { count: "readonly", dayOf: "readonly", press: "readonly", pressed: "readonly" } } },
  { files: ["internal/web/run/tests/*.js"], languageOptions: { globals: globals.node } },
];
