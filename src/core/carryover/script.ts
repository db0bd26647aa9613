import { indexOf, type Firmware } from "@/core/catalog";
import { addressId, type ScopeId, type SettingEntry, type Value } from "@/core/config";
import { isAcross, linesOfValue, type LineWriter } from "@/core/idiom";
import { groupBy } from "@/core/group-by";
import { passesOf, type Sending } from "@/core/carryover/passes";
import type { Settled } from "@/core/carryover/settle";

/** One line of a restore and the plan item that it carries out. */
export interface ScriptLine {
  readonly text: string;
  readonly itemId?: string;
  /** Index of the line to begin again from when this one must be repeated: the one that chose its profile or table. */
  readonly anchor: number;
  /** How often the board has to be stored and started before it: absent for the first pass. */
  readonly pass?: number;
}

export interface ScriptWriter {
  readonly forget: string;
  /** The console's word for a starter set, and which one it names. */
  readonly starter?: { readonly line: string; readonly name: string };
  readonly lines: LineWriter;
}

/** The lines as they are put down, each with its pass. */
class Script {
  readonly lines: ScriptLine[] = [];
  pass = 0;

  /** Returns the index of the first of them. */
  add(texts: readonly string[], itemId?: string, anchor = this.lines.length): number {
    for (const text of texts)
      this.lines.push({
        text,
        anchor,
        ...(itemId === undefined ? {} : { itemId }),
        ...(this.pass === 0 ? {} : { pass: this.pass }),
      });
    return anchor;
  }

  constructor(
    private readonly release: Firmware,
    /** What every value of the board will be, by address, as far as it is not a default. */
    private readonly wanted: ReadonlyMap<string, Value>,
  ) {}

  send(sending: Sending, { configuration }: Settled, write: LineWriter, areaOf: (key: string) => string): void {
    switch (sending.kind) {
      case "lines":
        for (const line of sending.lines) this.add([line.text], line.itemId);
        return;
      case "table": {
        const { name } = sending.table;
        const anchor = this.add(write.clear(name));
        for (const row of configuration.rows)
          if (row.table === name) this.add(write.row(name, row.key, row.cells), `row ${name}/${row.key}`, anchor);
        return;
      }
      case "values": {
        const { scope, entries, foreign } = sending;
        if (scope !== "system") this.under(write, scope, scope, entries, foreign);
        else for (const [area, those] of byArea(entries, areaOf)) this.under(write, scope, area, those);
      }
    }
  }

  /** Values under one heading. */
  private under(
    write: LineWriter,
    scope: ScopeId,
    area: string,
    entries: readonly SettingEntry[],
    foreign: Settled["lines"] = [],
  ): void {
    if (entries.length === 0 && foreign.length === 0) return;
    const across = isAcross(write, this.release, scope);
    const head = across ? [] : write.enter(scope, area);
    const anchor = head.length > 0 ? this.add(head) : undefined;
    for (const entry of entries)
      this.add(linesOfValue(write, this.release, entry, area, this.wanted), addressId(entry), anchor);
    for (const line of foreign) this.add([line.text], line.itemId, anchor);
    if (!across) this.add(write.leave(scope, area), undefined, anchor);
  }
}

/** Entries by area, in the order in which the areas come up. */
const byArea = (entries: readonly SettingEntry[], areaOf: (key: string) => string) =>
  groupBy(entries, ({ key }) => areaOf(key));

/**
 * The restore in its order: wipe, starter set, then system, tables, each profile, what others had to open, and the active
 * profiles at the end of each pass. Storing and restarting, after each pass, are console commands, because their answers decide how
 * the job goes on.
 */
export function scriptOf(settled: Settled, release: Firmware, write: ScriptWriter): ScriptLine[] {
  const laid = release.starters.find(({ name }) => name === write.starter?.name)?.values ?? [];
  const wanted = [...laid, ...settled.configuration.settings].map((entry) => [addressId(entry), entry.value] as const);
  const script = new Script(release, new Map(wanted));
  const areaOf = (key: string) => indexOf(release).settings.get(key)?.area ?? "";
  script.add([write.forget]);
  if (write.starter) script.add([write.starter.line]);
  passesOf(settled, release, write.starter?.name).forEach((pass, no) => {
    script.pass = no;
    for (const sending of pass) script.send(sending, settled, write.lines, areaOf);
    script.add(write.lines.activate(settled.configuration.active));
  });
  return script.lines;
}

/** The lines between two starts of the board: where they begin in the script, with anchors of their own. */
/**
 * The same for what is told nothing: what a settings region will hold, a line for each value as it would be written down, in
 * one pass.
 */
export const writtenDown = ({ configuration }: Settled, release: Firmware, lines: LineWriter): ScriptLine[] =>
  configuration.settings.flatMap(({ scope, key, value }) => {
    const area = indexOf(release).settings.get(key)?.area ?? "";
    const itemId = addressId({ scope, key });
    return lines.set(scope, area, [{ key, value }]).map((text) => ({ text, itemId, anchor: 0 }));
  });

export interface ScriptPass {
  readonly from: number;
  readonly lines: readonly ScriptLine[];
}

export function passesIn(script: readonly ScriptLine[]): ScriptPass[] {
  const passes: { from: number; lines: ScriptLine[] }[] = [];
  script.forEach((line, i) => {
    const before = script[i - 1];
    if (!before || (before.pass ?? 0) !== (line.pass ?? 0)) passes.push({ from: i, lines: [] });
    const pass = passes.at(-1);
    pass?.lines.push({ ...line, anchor: line.anchor - pass.from });
  });
  return passes;
}
