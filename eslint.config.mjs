import { defineConfig, globalIgnores } from "eslint/config";
import nextVitals from "eslint-config-next/core-web-vitals";
import prettier from "eslint-config-prettier/flat";
import tseslint from "typescript-eslint";

export default defineConfig([
  globalIgnores([
    "tests/additions/**",
    ".next/**",
    ".data/**",
    "test-results/**",
    "playwright-report/**",
    "next-env.d.ts",
  ]),
  ...nextVitals,
  {
    files: ["**/*.{ts,tsx}"],
    extends: [tseslint.configs.strictTypeChecked, tseslint.configs.stylisticTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      "@typescript-eslint/consistent-type-imports": ["error", { fixStyle: "inline-type-imports" }],
      // an import of types alone would still load the module, and with it half the core into the browser
      "@typescript-eslint/no-import-type-side-effects": "error",
      "@typescript-eslint/no-confusing-void-expression": "off",
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true, allowBoolean: true }],
      "@typescript-eslint/switch-exhaustiveness-check": ["error", { considerDefaultExhaustiveForUnions: true }],
      "max-lines": ["error", 450],
    },
  },
  {
    // while rows are locked nothing is waited for but the database, over the connection that holds them
    files: ["src/**/*.ts"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector:
            "CallExpression[callee.name='inTransaction'] AwaitExpression > CallExpression:not(:has(Identifier[name='transaction']))",
          message: "In a transaction only what is given the transaction may be waited for: rows are locked meanwhile.",
        },
        {
          // nor in what is called from there: whatever is given a transaction
          selector:
            ":function:has(> Identifier.params[name='transaction']) AwaitExpression > CallExpression:not(:has(Identifier[name='transaction']))",
          message: "Who is given a transaction waits for nothing that is not given it: rows are locked meanwhile.",
        },
        {
          selector: "CallExpression[callee.name='inTransaction'] ForOfStatement[await=true]",
          message: "In a transaction only what is given the transaction may be waited for: rows are locked meanwhile.",
        },
      ],
    },
  },
  {
    // focus, keys and names come with the interface's own controls
    files: ["src/**/*.tsx"],
    ignores: ["src/ui/base/**"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector:
            "JSXOpeningElement[name.name=/^(select|input|textarea|button|details|dialog|progress|meter|table)$/]",
          message: "Pages are made of the controls in ui/base.",
        },
      ],
      "no-restricted-imports": [
        "error",
        { paths: [{ name: "next/link", message: "The link of ui/base fetches nothing before it is followed." }] },
      ],
    },
  },
  {
    files: ["src/**/*.{ts,tsx}"],
    // where the database does what a model can't say; each such function says why
    ignores: [
      "src/server/sql.ts",
      "src/server/{chain,keeping,sign-ins}.ts",
      "src/server/repositories/{bench,board-forms,boards,campaigns,catalogue,fleet-parts,journal,preview,standards,usable,visit-statements}.ts",
    ],
    rules: {
      "@typescript-eslint/no-restricted-imports": [
        "error",
        {
          name: "@/server/sql",
          importNames: ["rows", "one", "run"],
          message: "Rows are read and written through models; SQL as text stands where a model can't say it.",
        },
      ],
    },
  },
  prettier,
]);
