import { proofSentence, type Proof } from "@/core/carryover";
import { buildCatalogue, checkDocument, type Catalogue } from "@/core/catalog";
import { ask, keepSettings } from "@/core/console";
import { defaultConfiguration, idiomOf, readRecital, recogniseText, reciteLines } from "@/core/idiom";
import { foldJob } from "@/core/job";
import { valueOf } from "@/core/problem";
import { linkTo, SimBoard, virtualClock } from "@/core/sim";
import { demoDocuments } from "../../demo/documents";
import {
  CHIP,
  imageFile,
  MemoryStore,
  release,
  runUpdate,
  standsAt,
  updateJob,
  statementIdiom,
  foundIn,
} from "../support/workshop";

/** A console language that lives in this test only: other words, other marks, decimal commas. No code knows of it. */
const OTHER = {
  document: "idiom",
  id: "other",
  title: "Another way to say it",
  spelling: { decimalMark: ",", on: "1", off: "0", listMark: "|", empty: "~" },
  quote: "'",
  facts: {
    family: "kind",
    release: "edition",
    builtOn: "day",
    target: "for",
    board: "on",
    chipId: "serial",
    extent: "only",
    kept: "memory",
  },
  lines: [
    { means: "end", pattern: "# fin {lines} / {check}" },
    { means: "fact", pattern: "# {name} = {value...}" },
    { means: "comment", pattern: "#{text...}" },
    { means: "answer", pattern: "-> {text...}" },
    { means: "select", pattern: "@{profile}/{number}" },
    { means: "clear", pattern: "empty the {table}" },
    { means: "row", pattern: "in {table}: {cells...}" },
    { means: "set", pattern: "{key} := {value...}" },
  ],
  recital: { cellMark: "=>", movedWord: "changes", end: { check: "crc32" } },
  console: {
    commands: {
      recite: "show everything",
      reciteMoved: "show changes",
      reciteActive: "show mine",
      declare: "who",
      sense: "feel",
      forget: "blank",
      starter: "frame {name}",
      keep: "save",
      restart: "once more",
      loader: "to the loader",
      quiet: "silence",
    },
    replies: {
      accepted: "-> done",
      adjusted: "-> done as {value...}",
      refused: "-> no ({cause}) {text...}",
      causes: {
        who: "unknown-name",
        where: "not-here",
        far: "out-of-range",
        what: "garbled",
        twice: "unkept",
        full: "full",
      },
    },
    senses: {
      roll: "lean",
      pitch: "tip",
      heading: "course",
      receiver: "ear",
      battery: "volts",
      sticks: ["s1", "s2", "s3", "s4"],
    },
  },
};

/** The demo world in which some releases speak the other idiom, or what is left of it. */
function otherCatalogue(releases = ["heddle-22"], written: object = OTHER): Catalogue {
  const other = valueOf(checkDocument(written));
  const documents = demoDocuments()
    .map((d) => d.document)
    .map((d) => (releases.includes(d.id) ? { ...d, idiom: "other" } : d));
  return valueOf(buildCatalogue([...documents, other]));
}

const catalogue = otherCatalogue();
const document = catalogue.idioms.get("other");
if (!document) throw new Error("the other idiom is missing");
const idiom = idiomOf(document);
const heddle = catalogue.releases.get("heddle-22");
if (!heddle) throw new Error("the release is missing");

/** A store whose workshop speaks the other idiom. */
class OtherStore extends MemoryStore {
  constructor(private readonly known = catalogue) {
    super();
  }
  override catalogue() {
    return Promise.resolve(this.known);
  }
  override fileBackup(raw: Uint8Array) {
    const text = new TextDecoder().decode(raw);
    const recital = valueOf(readRecital(text, this.known === catalogue ? idiom : statementIdiom(), this.known));
    this.backups.push(recital);
    return Promise.resolve({ id: this.backups.length, recital });
  }
}

/** One that reads whatever its workshop's languages say. */
class ToldStore extends OtherStore {
  constructor(private readonly told: Catalogue) {
    super(told);
  }
  override fileBackup(raw: Uint8Array) {
    const { recital } = valueOf(recogniseText(new TextDecoder().decode(raw), this.told));
    this.backups.push(recital);
    return Promise.resolve({ id: this.backups.length, recital });
  }
}

/** The proof of a job that has ended: everything took. */
function provedBy(store: OtherStore, when = "the whole job") {
  const state = foldJob(updateJob().steps, store.journal);
  const proof = store.papers.get(foundIn(state).proofSha ?? "") as Proof;
  const whole = new RegExp(`^All ${proof.counts.took} values took, read back from the board\\.`);
  expect([when, proofSentence(proof)]).toEqual([when, expect.stringMatching(whole)]);
  return { state, proof };
}

describe("an idiom that no code knows", () => {
  const text = reciteLines(
    defaultConfiguration(heddle, "CSLATE-B", { family: "Heddle", release: "22", target: "CSLATE-B", chipId: CHIP }),
    heddle,
    idiom,
    "all",
  );

  it("looks like nothing that the demo world speaks", () => {
    expect(text.slice(0, 3)).toEqual(["# kind = Heddle", "# edition = 22", "# for = CSLATE-B"]);
    expect(text).toContain("failsafe.after := 1,5");
    expect(text).toContain("arm.checks := level|receiver|battery");
    expect(text).toContain("in ports: 2 use=>receiver speed=>420000");
    expect(text).toContain("@tune/5");
    expect(text.at(-1)).toMatch(/^# fin \d+ \/ [0-9a-f]{8}$/);
  });

  it("is read and written back to the byte, and judged as strictly", () => {
    const whole = valueOf(readRecital(text.join("\n"), idiom, catalogue));
    expect(whole.completeness.verdict).toBe("complete");
    expect(reciteLines(whole.configuration, heddle, idiom, "all")).toEqual(text);
    expect(valueOf(readRecital(text.slice(0, -1).join("\n"), idiom, catalogue)).completeness.verdict).toBe(
      "incomplete",
    );
    // the first idiom's words mean nothing here
    const mixed = valueOf(
      readRecital([...text.slice(0, 10), "put loop.rate 4", ...text.slice(10)].join("\n"), idiom, catalogue),
    );
    expect(mixed.configuration.unknown.map((u) => u.text)).toEqual(["put loop.rate 4"]);
  });

  const onBench = async (known: Catalogue) => {
    const model = known.models.get("corsley-slate");
    if (!model) throw new Error("no model");
    const board = new SimBoard({ model, chipId: CHIP, firstPort: 1 }, known);
    board.manufacture(imageFile("heddle-22", "CSLATE-B"));
    const link = linkTo(board, virtualClock());
    board.plug(0);
    await link.clock.waitUntil(2_000_000);
    return { board, link };
  };

  it.each(["clear", "row", "select"])(
    "without a form for “%s” lines the job fails before anything is erased, and says what is missing",
    async (form) => {
      const written = { ...OTHER, lines: OTHER.lines.filter(({ means }) => means !== form) };
      const known = otherCatalogue(["heddle-23"], written);
      const { board, link } = await onBench(known);
      const before = board.flash.bytes.slice();
      const store = new OtherStore(known);
      await expect(runUpdate(board, link, store)).rejects.toThrow(`no form for “${form}” lines`);
      const state = foldJob(updateJob().steps, store.journal);
      const failed = state.steps.find(({ status }) => status === "failed");
      expect([failed?.id, failed?.problem?.code]).toEqual(["plan", "idiom-form"]);
      expect(Buffer.compare(board.flash.bytes, before)).toBe(0);
    },
  );

  const without = (...means: readonly string[]) => OTHER.lines.filter((line) => !means.includes(line.means));
  const useLine = { means: "activate", pattern: "use {profile} {number}" };
  const CONSOLES = [
    [
      "closes its headings, with what keys begin with in them",
      {
        ...OTHER,
        keysUnder: ".",
        text: { indent: "  " },
        lines: [
          useLine,
          ...without("select", "set"),
          { means: "section", pattern: "{section} no {number} {{" },
          { means: "section", pattern: "{prefix} {{" },
          { means: "leave", pattern: "}}" },
          { means: "set", pattern: "{key} := {value...}" },
        ],
      },
      ["tune no 3 {", "roll {", "push := 61", "}"],
    ],
    [
      "says a setting’s value in all profiles in one line, and each cell in one of its own",
      {
        ...OTHER,
        rows: { unopened: true },
        lines: [
          useLine,
          ...without("select", "set", "row", "clear"),
          { means: "cell", pattern: "in {table}[{row}] {column} := {value...}" },
          { means: "set", pattern: "each {profile} {key} := {values...}", list: { mark: " / ", over: "profiles" } },
          { means: "set", pattern: "{key} := {value...}" },
        ],
      },
      ["each tune roll.push := 45 / 45 / 61 / 45 / 45"],
    ],
  ] as const;

  it.each(CONSOLES)("a console that %s takes a whole restore, proved value by value", async (_, written, lines) => {
    const known = otherCatalogue(["heddle-23"], structuredClone(written));
    const { board, link } = await onBench(known);
    for (const line of ["use tune 3", "put roll.push 61", "use tune 1"])
      expect(valueOf(await ask(link.console, line, statementIdiom(), 2000)).answer).toBe("accepted");
    valueOf(await keepSettings(link.console, statementIdiom()));
    const store = new ToldStore(known);
    expect(await runUpdate(board, link, store)).toBe("finished");
    const { state, proof } = provedBy(store);
    expect(proof.values.find((v) => v.id === "tune 3/roll.push")?.found).toBe("61");
    const script = store.papers.get(foundIn(state).scriptSha ?? "") as readonly { readonly text: string }[];
    const sent = script.map(({ text: line }) => line.trim());
    expect(sent.filter((line) => lines.some((each) => each === line)).length).toBeGreaterThanOrEqual(lines.length);
  });

  it.each(CONSOLES)(
    "a console that %s, left in the middle of anything by a process that died, takes the rest from the next",
    async (_, written) => {
      const known = otherCatalogue(["heddle-23"], structuredClone(written));
      for (let line = 3; line < 420; line += 97) {
        const { board, link } = await onBench(known);
        const store = new ToldStore(known);
        let seen = 0;
        const inRestore = standsAt("restore");
        await runUpdate(board, link, store, { killWhen: (state) => inRestore(state) && ++seen > line });
        expect(await runUpdate(board, link, store)).toBe("finished");
        provedBy(store, `cut at line ${line}`);
      }
    },
    120_000,
  );

  it("carries the whole job: backed up, flashed, restored and proved on a board that speaks it", async () => {
    const { board, link } = await onBench(catalogue);
    for (const line of [
      "silence",
      "motor.rest := 6,2",
      "@tune/3",
      "roll.push := 61",
      "in switches: 1 does=>arm channel=>5 from=>1700 to=>2100",
    ])
      expect(valueOf(await ask(link.console, line, idiom, 2000)).answer).toBe("accepted");
    expect(valueOf(await ask(link.console, "put loop.rate 4", idiom, 2000)).answer).toBe("refused");
    expect(valueOf(await keepSettings(link.console, idiom))).toEqual({ twice: true });
    const store = new OtherStore();
    expect(await runUpdate(board, link, store)).toBe("finished");
    const { state, proof } = provedBy(store);
    expect(proof.values.find((v) => v.id === "tune 3/roll.push")?.found).toBe("61");
    expect(release("heddle-23").id).toBe(foundIn(state).toRelease);
  });
});
