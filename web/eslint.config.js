import { readdirSync } from "node:fs";
import js from "@eslint/js";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

/* The floors of the front end: an import goes down, and no station knows another. */
const FLOORS = ["api", "draft", "shared", "stations", "shell"];
const above = (floor) => FLOORS.slice(FLOORS.indexOf(floor) + 1);
const STATIONS = readdirSync(new URL("./src/stations", import.meta.url));
const refused = (names) => names.flatMap((n) => [`@/${n}/*`, `**/${n}/*`]);

export default ts.config(
  { ignores: ["dist", "generated"] },
  js.configs.recommended,
  ...ts.configs.recommendedTypeChecked,
  { languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } } },
  a11y.flatConfigs.recommended,
  {
    rules: {
      // What opens a dialog or a row to fill in takes the focus there, as the ARIA authoring practices ask.
      "jsx-a11y/no-autofocus": "off",
      // What scrolls must be reached by the keyboard: wide tables and sources are named groups with a tab stop.
      "jsx-a11y/no-noninteractive-tabindex": ["error", { tags: ["pre"], roles: ["group", "tabpanel"] }],
    },
  },
  {
    plugins: { "react-hooks": hooks },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
  },
  ...FLOORS.slice(0, -1).map((floor) => ({
    files: [`src/${floor}/**/*.{ts,tsx}`],
    rules: {
      "no-restricted-imports": [
        "error",
        { patterns: [{ group: refused(above(floor)), message: "An import goes down a floor, never up." }] },
      ],
    },
  })),
  ...STATIONS.map((station) => ({
    files: [`src/stations/${station}/**/*.{ts,tsx}`],
    rules: {
      "no-restricted-imports": [
        "error",
        {
          patterns: [
            {
              group: [
                ...refused(above("stations")),
                ...refused(STATIONS.filter((s) => s !== station).map((s) => `stations/${s}`)),
                ...STATIONS.filter((s) => s !== station).map((s) => `../${s}/*`),
              ],
              message: "No station knows another, nor the shell.",
            },
          ],
        },
      ],
    },
  })),
);
