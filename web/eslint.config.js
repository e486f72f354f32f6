import boundaries from "eslint-plugin-boundaries";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

// Imports point one way: app -> features -> ui, api, lib; no feature imports another.
const kinds = ["app", "features", "ui", "api", "lib"];
export default ts.config({ ignores: ["src/api/schema.d.ts"] }, ...ts.configs.recommended, {
  files: ["src/**/*.{ts,tsx}"],
  plugins: { boundaries, "react-hooks": hooks },
  settings: {
    "import/resolver": { node: { extensions: [".ts", ".tsx", ".d.ts"] } },
    "boundaries/elements": kinds.map((type) =>
      type === "features"
        ? { type, pattern: "src/features/*", capture: ["noun"] }
        : { type, pattern: `src/${type}` },
    ),
  },
  rules: {
    ...hooks.configs.recommended.rules,
    "boundaries/element-types": [
      "error",
      {
        default: "disallow",
        rules: [
          { from: "app", allow: kinds },
          { from: "features", allow: ["ui", "api", "lib", ["features", { noun: "${from.noun}" }]] },
          { from: "ui", allow: ["ui", "api", "lib"] },
          { from: "api", allow: ["api", "lib"] },
          { from: "lib", allow: ["lib", "api"] },
        ],
      },
    ],
  },
});
