/** Data flows one way: whoever is listed here may not import what stands behind it. */
const core = ["tables", "formats", "mesh", "sampling", "statistics", "charts", "pictures", "exports"];
const uses = {
  tables: [],
  formats: ["tables"],
  mesh: ["tables", "formats"],
  sampling: ["tables", "formats", "mesh"],
  statistics: ["tables", "sampling"],
  charts: ["tables", "statistics"],
  pictures: ["tables", "sampling", "charts"],
  exports: ["tables", "charts", "statistics", "pictures"],
};
/** Layers of the engine, each may use those before it: the folders of `engine/src`. */
const engine = [
  "store",
  "definition",
  "verbs",
  "read",
  "study",
  "sandbox",
  "scheduler",
  "check",
  "record",
  "outputs",
  "inspect",
  "follow",
  "job",
  "diff-jobs",
];
const noImport = (group, message) => ({
  "no-restricted-imports": ["error", { patterns: [{ group, message }] }],
});
const free = { "no-restricted-imports": "off" };
const surface = ["oxtrum", "hono*", "react*", "drizzle*"];

export default {
  plugins: ["eslint", "typescript", "oxc", "import", "react", "unicorn", "jest"],
  categories: { correctness: "error" },
  options: { denyWarnings: true },
  ignorePatterns: [
    "**/dist/**",
    "**/bundle/**",
    "**/build-types/**",
    "**/test-build/**",
    "demo/data/**",
    "demo/live/**",
    "demo/scripts/**",
    "packages/engine/library/**",
    "test-results/**",
    ".oxtrum/**",
  ],
  rules: {
    // Files that need each other, by types too, are one thing, or a third is missing between them.
    "import/no-cycle": ["error", { ignoreTypes: false }],
    "eslint/no-unused-vars": [
      "error",
      { argsIgnorePattern: "^_", varsIgnorePattern: "^_", destructuredArrayIgnorePattern: "^_" },
    ],
    "eslint/no-unused-expressions": ["error", { allowTernary: true, allowShortCircuit: true }],
    "eslint/no-restricted-globals": ["error", "Intl"],
    "eslint/eqeqeq": "error",
    // Terminals and file formats are full of control characters, laws and branches of `then`.
    "eslint/no-control-regex": "off",
    "unicorn/no-thenable": "off",
    "react/incompatible-library": "off",
    "unicorn/no-new-array": "off",
    // A test that asserts nothing is none; these assert by name.
    "jest/expect-expect": [
      "error",
      { assertFunctionNames: ["expect", "fc.assert", "same", "near", "check", "held", "agrees"] },
    ],
    // Properties ask different things of different cases.
    "jest/no-conditional-expect": "off",
    "jest/no-standalone-expect": ["error", { additionalTestBlockFunctions: ["beforeAll", "beforeEach", "afterEach"] }],
    "eslint/prefer-const": "error",
    "eslint/no-var": "error",
    "eslint/prefer-rest-params": "error",
    "eslint/prefer-spread": "error",
    "eslint/max-lines": ["error", { max: 420, skipBlankLines: true, skipComments: true }],
    "typescript/no-explicit-any": "error",
    "typescript/ban-ts-comment": "error",
    "typescript/ban-tslint-comment": "error",
    "typescript/no-extraneous-class": "error",
    "typescript/no-unsafe-function-type": "error",
    "typescript/no-unnecessary-type-constraint": "error",
    // A large plain script is loaded faster than it is imported.
    "typescript/no-require-imports": ["error", { allowAsImport: true }],
  },
  overrides: [
    ...core.map((part) => ({
      files: [`packages/core/src/${part}/**/*.ts`],
      rules: noImport(
        [
          ...core
            .filter((o) => o !== part && !uses[part].includes(o))
            .flatMap((o) => [`../${o}/*`, `../../${o}/*`, `**/core/src/${o}/*`]),
          "@oxtrum/*",
          ...surface,
        ],
        `core/${part} may use ${uses[part].map((u) => `core/${u}`).join(", ") || "no other part"} only`,
      ),
    })),
    {
      files: ["packages/engine/src/**/*.ts"],
      rules: noImport(["@oxtrum/server", "@oxtrum/web", ...surface], "engine uses core only"),
    },
    ...engine.map((part, k) => ({
      files: [`packages/engine/src/${part}/**/*.ts`],
      rules: noImport(
        [
          ...engine.slice(k + 1).flatMap((o) => [`../${o}/*`, `../../${o}/*`]),
          "../index.js",
          "../../index.js",
          "../testing/*",
          "@oxtrum/server",
          "@oxtrum/web",
          ...surface,
        ],
        `engine/${part} may use ${engine.slice(0, k).join(", ") || "no other part"} only`,
      ),
    })),
    {
      files: ["packages/engine/src/sandbox/runtime/**/*.ts"],
      // Types of the forms that it is told cost nothing there.
      rules: noImport(
        ["@oxtrum/*", "node:*", "../**", "!../../verbs/parameters/form.js"],
        "the sandbox has the language itself and nothing else",
      ),
    },
    {
      // Longer ones are tight loops, which say so.
      files: ["packages/{core,engine,server,cli,contract}/src/**/*.ts"],
      rules: { "eslint/max-lines-per-function": ["error", { max: 60, skipBlankLines: true, skipComments: true }] },
    },
    {
      files: ["packages/*/src/**/*.test.ts", "packages/*/src/{testing,**/tests}/**"],
      rules: { "eslint/max-lines-per-function": "off" },
    },
    { files: ["packages/{core,engine}/src/**/*.test.ts"], rules: free },
    {
      files: ["packages/server/src/**/*.ts"],
      rules: noImport(["@oxtrum/web", "oxtrum", "react*"], "server uses engine and core only"),
    },
    {
      files: ["packages/cli/src/**/*.ts"],
      rules: noImport(["@oxtrum/server", "@oxtrum/web", ...surface.slice(1)], "cli uses engine and core only"),
    },
    {
      files: ["packages/web/src/**/*.{ts,tsx}"],
      rules: noImport(
        ["@oxtrum/server", "@oxtrum/engine", "@oxtrum/core/exports", "@oxtrum/core/formats", "node:*"],
        "web speaks to the server over HTTP, and shares core/charts",
      ),
    },
    { files: ["packages/web/src/testing/**"], rules: free },
    { files: ["**/*.cjs"], rules: { "typescript/no-require-imports": "off" } },
    { files: ["e2e/**"], rules: { "eslint/no-empty-pattern": "off" } },
  ],
};
