import { defineConfig } from "eslint/config";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

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
const noImport = (patterns, message) => ({
  "no-restricted-imports": ["error", { patterns: patterns.map((group) => ({ group: [group], message })) }],
});

export default defineConfig(
  {
    ignores: [
      "**/dist/**",
      "**/bundle/**",
      "**/build-types/**",
      "**/test-build/**",
      "demo/data/**",
      "demo/live/**",
      "demo/scripts/**",
      "packages/engine/library/**",
      "node_modules/**",
      "test-results/**",
      ".oxtrum/**",
    ],
  },
  tseslint.configs.strict,
  {
    languageOptions: { parserOptions: { ecmaVersion: 2023 } },
    rules: {
      "@typescript-eslint/no-non-null-assertion": "off",
      "@typescript-eslint/no-unused-vars": [
        "error",
        { argsIgnorePattern: "^_", varsIgnorePattern: "^_", destructuredArrayIgnorePattern: "^_" },
      ],
      "@typescript-eslint/no-empty-object-type": "off",
      // A large plain script is loaded faster than it is imported.
      "@typescript-eslint/no-require-imports": ["error", { allowAsImport: true }],
      "@typescript-eslint/unified-signatures": "off",
      "@typescript-eslint/no-dynamic-delete": "off",
      "@typescript-eslint/no-invalid-void-type": "off",
      "@typescript-eslint/no-unused-expressions": ["error", { allowTernary: true, allowShortCircuit: true }],
      "no-self-compare": "off",
      "no-restricted-globals": ["error", "Intl"],
      eqeqeq: "error",
      "max-lines": ["error", { max: 420, skipBlankLines: true, skipComments: true }],
      "max-len": [
        "error",
        {
          code: 120,
          ignoreStrings: true,
          ignoreTemplateLiterals: true,
          ignoreRegExpLiterals: true,
          ignorePattern: "^(export )?const \\w+ = \\[\\[",
        },
      ],
    },
  },
  ...core.map((part) => ({
    files: [`packages/core/src/${part}/**/*.ts`],
    ignores: ["**/*.test.ts"],
    rules: noImport(
      [
        ...core
          .filter((o) => o !== part && !uses[part].includes(o))
          .flatMap((o) => [`../${o}/*`, `../../${o}/*`, `**/core/src/${o}/*`]),
        "@oxtrum/*",
        "oxtrum",
        "hono*",
        "react*",
        "drizzle*",
      ],
      `core/${part} may use ${uses[part].map((u) => `core/${u}`).join(", ") || "no other part"} only`,
    ),
  })),
  {
    files: ["packages/engine/src/**/*.ts"],
    rules: noImport(
      ["@oxtrum/server", "@oxtrum/web", "oxtrum", "hono*", "react*", "drizzle*"],
      "engine uses core only",
    ),
  },
  ...engine.map((part, k) => ({
    files: [`packages/engine/src/${part}/**/*.ts`],
    ignores: ["**/*.test.ts"],
    rules: noImport(
      [
        ...engine.slice(k + 1).flatMap((o) => [`../${o}/*`, `../../${o}/*`]),
        ...["../index.js", "../../index.js", "../testing/*"],
        ...["@oxtrum/server", "@oxtrum/web", "oxtrum", "hono*", "react*", "drizzle*"],
      ],
      `engine/${part} may use ${engine.slice(0, k).join(", ") || "no other part"} only`,
    ),
  })),
  {
    files: ["packages/engine/src/sandbox/runtime/**/*.ts"],
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-imports": [
        "error",
        {
          patterns: [
            // Types of the forms that it is told cost nothing there.
            {
              regex: "^(@oxtrum/|node:|\\.\\./(?!\\.\\./verbs/parameters/form\\.js$))",
              message: "the sandbox has the language itself and nothing else",
            },
          ],
        },
      ],
    },
  },
  {
    files: ["packages/server/src/**/*.ts"],
    rules: noImport(["@oxtrum/web", "oxtrum", "react*"], "server uses engine and core only"),
  },
  {
    files: ["packages/cli/src/**/*.ts"],
    rules: noImport(["@oxtrum/server", "@oxtrum/web", "hono*", "react*", "drizzle*"], "cli uses engine and core only"),
  },
  {
    files: ["packages/web/src/**/*.{ts,tsx}"],
    ignores: ["packages/web/src/testing/**"],
    extends: [hooks.configs.flat.recommended],
    rules: {
      ...noImport(
        ["@oxtrum/server", "@oxtrum/engine", "@oxtrum/core/exports", "@oxtrum/core/formats", "node:*"],
        "web speaks to the server over HTTP, and shares core/charts",
      ),
      "react-hooks/incompatible-library": "off",
    },
  },
);
