import a11y from "eslint-plugin-jsx-a11y";
import boundaries from "eslint-plugin-boundaries";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

// From what everything stands on to what everything meets in: a folder knows those before it, a stage no other stage.
const ROOMS = ["api", "device", "ui", "plan", "drawing", "ladder", "stage", "app"];

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  ...tseslint.configs.recommendedTypeChecked,
  a11y.flatConfigs.recommended,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    plugins: { "react-hooks": hooks, boundaries },
    settings: {
      "import/resolver": { node: { extensions: [".ts", ".tsx"] } },
      "boundaries/elements": [
        ...ROOMS.filter((room) => room !== "stage").map((room) => ({ type: room, pattern: `src/${room}` })),
        { type: "stage", pattern: "src/stages/*" },
      ],
    },
    rules: {
      ...hooks.configs["recommended"].rules,
      "react-hooks/refs": "off",
      "boundaries/dependencies": [
        "error",
        {
          default: "disallow",
          policies: ROOMS.map((room, at) => ({
            from: { element: { type: room } },
            allow: ROOMS.slice(0, at).map((below) => ({ to: { element: { type: below } } })),
          })),
        },
      ],
    },
  },
);
