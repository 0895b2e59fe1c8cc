import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** Which folders of src each folder may not import from: imports go one way, down this list. */
const ONE_WAY = {
  ui: ["design", "state", "fields", "kinds", "recipe", "proof", "sheets", "press", "bench", "shelf"],
  design: ["ui", "state", "fields", "kinds", "recipe", "proof", "sheets", "press", "bench", "shelf"],
  state: ["fields", "kinds", "recipe", "proof", "sheets", "press", "bench", "shelf"],
  fields: ["kinds", "recipe", "proof", "sheets", "press", "bench", "shelf"],
  kinds: ["recipe", "proof", "sheets", "press", "bench", "shelf"],
  recipe: ["kinds", "proof", "sheets", "press", "bench", "shelf"],
  proof: ["kinds", "recipe", "sheets", "press", "bench", "shelf"],
  sheets: ["kinds", "recipe", "proof", "press", "bench", "shelf"],
  press: ["kinds", "recipe", "sheets", "bench", "shelf"],
  bench: ["kinds", "shelf"],
};
const oneWay = Object.entries(ONE_WAY).map(([folder, others]) => ({
  files: [`src/${folder}/**/*.{ts,tsx}`],
  ignores: ["**/*.test.ts"],
  rules: { "no-restricted-imports": ["error", { patterns: others.map((other) => `**/${other}/*`) }] },
}));

export default tseslint.config(
  { ignores: ["src/api/schema.d.ts"] },
  tseslint.configs.strict,
  reactHooks.configs.flat["recommended-latest"],
  { rules: { "@typescript-eslint/no-non-null-assertion": "error" } },
  ...oneWay,
);
