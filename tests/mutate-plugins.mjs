import { PluginKind, declareClassPlugin, declareValuePlugin } from "@stryker-mutator/api/plugin";

const SHARE = Number(process.env.MUTATE_SHARE ?? 1);

/**
 * Draws every n-th alteration. The others count as not compiled, and so are in no score: a tenth of a folder says within
 * a few percent what the whole of it would, and in a tenth of the hours.
 */
class Draw {
  init = () => Promise.resolve();

  check = (mutants) =>
    Promise.resolve(
      Object.fromEntries(
        mutants.map(({ id }) => [
          id,
          Number(id) % SHARE === 0 ? { status: "passed" } : { status: "compileError", reason: "not drawn" },
        ]),
      ),
    );

  group = (mutants) => Promise.resolve([mutants.map(({ id }) => id)]);
}

const PROSE = new Set([
  "message",
  "detail",
  "hint",
  "reason",
  "title",
  "says",
  "say",
  "text",
  "why",
  "expected",
  "seen",
]);

/** Sentences for people are not altered: no test should hold on to their wording. */
const prose = {
  shouldIgnore(path) {
    const { parent, node, key } = path;
    return key === "value" &&
      parent?.type === "ObjectProperty" &&
      PROSE.has(parent.key.name) &&
      (node.type === "StringLiteral" || node.type === "TemplateLiteral")
      ? "a sentence"
      : undefined;
  },
};

export const strykerPlugins = [
  declareClassPlugin(PluginKind.Checker, "draw", Draw),
  declareValuePlugin(PluginKind.Ignore, "prose", prose),
];
