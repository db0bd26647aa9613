import { type CatalogueDocument } from "@/core/catalog";
import { type Identity, type Spelling } from "@/core/config";
import { compilePattern, fillPattern, type Pattern } from "@/core/catalog/pattern";

export type LineMeaning = "fact" | "end" | "set" | "row" | "select" | "clear" | "comment" | "answer";
export type RefusalCause = "unknown-name" | "not-here" | "out-of-range" | "garbled" | "unkept" | "full";
export type CommandName =
  | "recite"
  | "reciteMoved"
  | "reciteActive"
  | "declare"
  | "sense"
  | "forget"
  | "starter"
  | "keep"
  | "restart"
  | "loader"
  | "quiet";

/** What an idiom document says of the console's words, as it stands in the document. */
interface IdiomDocument {
  readonly id: string;
  readonly title: string;
  readonly spelling: Spelling;
  readonly quote: string;
  readonly facts: Readonly<Partial<Record<keyof Identity | "kept", string>>>;
  readonly lines: readonly { readonly means: LineMeaning; readonly pattern: string }[];
  readonly recital: {
    readonly cellMark: string;
    readonly movedWord: string;
    readonly end?: { readonly check: "crc32" };
  };
  readonly console: {
    readonly commands: Readonly<Partial<Record<CommandName, string>>>;
    readonly replies: {
      readonly accepted: string;
      readonly adjusted: string;
      readonly refused: string;
      readonly causes: Readonly<Record<string, RefusalCause>>;
    };
    readonly senses: {
      readonly roll: string;
      readonly pitch: string;
      readonly heading: string;
      readonly receiver: string;
      readonly battery: string;
      readonly sticks: readonly string[];
    };
  };
}

/** An idiom document with its patterns compiled. */
export interface Idiom extends Omit<IdiomDocument, "lines"> {
  readonly lines: readonly { readonly means: LineMeaning; readonly pattern: Pattern }[];
  readonly replies: { readonly accepted: Pattern; readonly adjusted: Pattern; readonly refused: Pattern };
}

const compiled = new WeakMap<CatalogueDocument, Idiom>();

/** The idiom of a document that the schema has accepted; compiled once for each document. */
export function idiomOf(checked: CatalogueDocument): Idiom {
  let idiom = compiled.get(checked);
  if (!idiom) {
    const document = checked as unknown as IdiomDocument;
    const { accepted, adjusted, refused } = document.console.replies;
    idiom = {
      ...document,
      lines: document.lines.map((line) => ({ means: line.means, pattern: compilePattern(line.pattern) })),
      replies: {
        accepted: compilePattern(accepted),
        adjusted: compilePattern(adjusted),
        refused: compilePattern(refused),
      },
    };
    compiled.set(checked, idiom);
  }
  return idiom;
}

/** The console line of a command, or undefined when the idiom has none. */
export function commandLine(idiom: Idiom, name: CommandName, fields: Record<string, string> = {}): string | undefined {
  const source = idiom.console.commands[name];
  return source === undefined ? undefined : fillPattern(compilePattern(source), fields);
}

export function requireCommand(idiom: Idiom, name: CommandName, fields: Record<string, string> = {}): string {
  const line = commandLine(idiom, name, fields);
  if (line === undefined) throw new Error(`the idiom ${idiom.id} has no word for ${name}`);
  return line;
}
