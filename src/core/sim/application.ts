import { fillPattern, matchPattern } from "@/core/catalog";
import { addressId, rowsById, settingsByAddress, type Configuration, type ScopeId } from "@/core/config";
import {
  commentLine,
  defaultConfiguration,
  lineWriter,
  newCursor,
  newReader,
  reciteLines,
  type CommandName,
  type Extent,
  type Idiom,
  type RefusalCause,
} from "@/core/idiom";
import type { Application } from "@/core/sim/running";
import { refusal, runLine, starter, type Taken } from "@/core/sim/statements";

export type Act = "keep" | "restart" | "loader";
export interface Worked {
  readonly text: string;
  readonly act?: Act;
}

/** What the airframe around the board feels. Angles in degrees, sticks in µs of pulse, battery in volts. */
export interface Senses {
  roll: number;
  pitch: number;
  heading: number;
  sticks: number[];
  batteryVolts: number;
  /** Of its second battery, where it has one. */
  secondVolts?: number;
  receiverPowered: boolean;
  /** Quarter turns that the board stands turned by in its airframe; its own setting has to undo them. */
  mountQuarters: number;
  /** Parts that it feels through do not answer. */
  partsSilent?: boolean;
}

/** What an image is, before it runs. */
export type Program = Pick<Application, "release" | "idiom" | "target" | "layout">;

export function startApplication({ release, idiom, target, layout }: Program, kept: string): Application {
  const defaults = defaultConfiguration(release, target.id);
  const values = new Map([...settingsByAddress(defaults)].map(([id, entry]) => [id, entry.value]));
  return {
    release,
    idiom,
    target,
    layout,
    values,
    begun: new Map(values),
    rows: new Map(
      [...rowsById(defaults)].map(([id, row]) => [id, { table: row.table, key: row.key, cells: { ...row.cells } }]),
    ),
    active: { ...defaults.active },
    kept,
    // a console that cannot be hushed does not echo
    echo: idiom.words.quiet !== undefined,
    reader: newReader(),
    cursor: newCursor(),
    intake: undefined,
    refused: 0,
    keepAsked: false,
  };
}

/** Back to the defaults, in place. */
function forget(app: Application): void {
  const fresh = startApplication(app, app.kept);
  app.values.clear();
  app.rows.clear();
  for (const [id, value] of fresh.values) app.values.set(id, value);
  for (const [id, row] of fresh.rows) app.rows.set(id, row);
  Object.assign(app.active, fresh.active);
  app.refused = 0;
  app.keepAsked = false;
}

export function configurationOfApp(app: Application, identity: Configuration["identity"]): Configuration {
  const settings = [...app.values].map(([id, value]) => {
    const slash = id.indexOf("/");
    return { scope: id.slice(0, slash) as ScopeId, key: id.slice(slash + 1), value, raw: "", line: 0 };
  });
  return {
    identity,
    settings,
    rows: [...app.rows.values()].map((row) => ({ ...row, line: 0 })),
    active: app.active,
    unknown: [],
  };
}

/** What stands before the place where the next line is typed, where the language has something. */
const promptOf = ({ text: { prompts = [] } }: Idiom): string => prompts[0] ?? "";

/** What it prints when it has started, in the comments of its language, and its prompt. */
export function greetingOf({ release, idiom }: Application): string {
  const line = commentLine(`${release.family} is ready`, idiom);
  return (line === undefined ? "" : `${line}\n`) + promptOf(idiom);
}

const causeWord = (idiom: Idiom, cause: RefusalCause) =>
  Object.entries(idiom.console.replies.causes).find(([, c]) => c === cause)?.[0] ?? cause;
const accepted = (app: Application) => fillPattern(app.idiom.replies.accepted, {});
const refused = (app: Application, cause: RefusalCause, text: string) =>
  fillPattern(app.idiom.replies.refused, { cause: causeWord(app.idiom, cause), text });

/** The console's words for what became of a statement. */
function reply(app: Application, taken: Taken): string {
  switch (taken.kind) {
    case "accepted":
      return accepted(app);
    case "adjusted":
      return fillPattern(app.idiom.replies.adjusted, { value: taken.value });
    case "refused":
      app.refused++;
      return refused(app, taken.cause, taken.text);
  }
}

/** Works one console line off. */
export function workLine(app: Application, line: string, identity: Configuration["identity"], senses: Senses): Worked {
  const echo = app.echo && line !== "" ? `${line}\n` : "";
  const worked: Worked = line === "" ? { text: "" } : answer(app, line, identity, senses);
  const goes = worked.act === "restart" || worked.act === "loader";
  return { ...worked, text: echo + worked.text + (goes ? "" : promptOf(app.idiom)) };
}

/** What it says when it did something for a part; or why it did not. */
export function answerLine(
  app: Application,
  line: string,
  { refused: why, passes }: { readonly refused?: string | undefined; readonly passes: boolean },
): string {
  const echo = app.echo && line !== "" ? `${line}\n` : "";
  const answer = why === undefined ? accepted(app) : refused(app, "not-here", why);
  return `${echo}${answer}\n${passes ? "" : promptOf(app.idiom)}`;
}

/** Refuses a line that did not fit its buffer; the next one is heard. */
export function refuseOverlong(app: Application): string {
  const answer = { kind: "refused", cause: "garbled", text: "line is too long" } as const;
  if (!app.intake) return `${reply(app, answer)}\n${promptOf(app.idiom)}`;
  app.intake.lines++;
  app.intake.refused.push({ line: app.intake.lines, answer });
  return `${fillPattern(app.idiom.replies.taken ?? app.idiom.replies.accepted, {})}\n`;
}

function answer(app: Application, line: string, identity: Configuration["identity"], senses: Senses): Worked {
  const { intake } = app.idiom.console;
  if (line === intake?.open) {
    app.intake = { lines: 0, refused: [] };
    return { text: `${accepted(app)}\n` };
  }
  if (app.intake) return { text: takeIn(app, line) };
  const command = (Object.entries(app.idiom.words) as [CommandName, string][]).find(([, word]) => word === line)?.[0];
  if (command !== undefined) return runCommand(app, command, identity, senses);
  const airframe = app.idiom.starter && matchPattern(app.idiom.starter, line);
  if (airframe) return { text: `${reply(app, starter(app, airframe.name ?? ""))}\n` };
  if (intake) return { text: `${reply(app, refusal("garbled", `say ${intake.open} first`))}\n` };
  return { text: `${reply(app, runLine(app, line))}\n` };
}

/** One line between the words that open and close an intake: taken without judgement, judged at the end. */
function takeIn(app: Application, line: string): string {
  const { intake: words } = app.idiom.console;
  const { intake } = app;
  const { refusedLine, taken } = app.idiom.replies;
  if (!words || !intake || !refusedLine || !taken) return "";
  if (line === words.close) {
    app.intake = undefined;
    app.refused += intake.refused.length;
    const refusalLines = intake.refused.map(({ line: no, answer: { cause, text } }) =>
      fillPattern(refusedLine, { line: String(no), cause: causeWord(app.idiom, cause), text }),
    );
    return [...refusalLines, accepted(app), ""].join("\n");
  }
  intake.lines++;
  const result = runLine(app, line === words.doubled ? words.close : line);
  if (result.kind === "refused") intake.refused.push({ line: intake.lines, answer: result });
  return `${fillPattern(taken, {})}\n`;
}

function runCommand(
  app: Application,
  command: CommandName,
  identity: Configuration["identity"],
  senses: Senses,
): Worked {
  const recite = (extent: Extent) => ({
    text: [...reciteLines(configurationOfApp(app, identity), app.release, app.idiom, extent), accepted(app), ""].join(
      "\n",
    ),
  });
  switch (command) {
    case "recite":
      return recite("all");
    case "reciteActive":
      return recite("active");
    case "reciteMoved":
      return recite("moved");
    case "declare":
      return {
        text: [...facts(app, "identity", { ...identity, kept: app.kept }, app.idiom.facts), accepted(app), ""].join(
          "\n",
        ),
      };
    case "sense":
      return { text: [...measured(app, senses), accepted(app), ""].join("\n") };
    case "forget":
      forget(app);
      return { text: `${accepted(app)}\n` };
    case "quiet":
      app.echo = false;
      return { text: `${accepted(app)}\n` };
    case "keep":
      if (app.refused > 0 && !app.keepAsked) {
        app.keepAsked = true;
        return {
          text: `${refused(app, "unkept", `${app.refused} lines were refused, say it again to keep the rest`)}\n`,
        };
      }
      app.refused = 0;
      app.keepAsked = false;
      return { text: `${accepted(app)}\n`, act: "keep" };
    case "restart":
      return { text: `${accepted(app)}\n`, act: "restart" };
    case "loader":
      return app.release.loaderWord
        ? { text: `${accepted(app)}\n`, act: "loader" }
        : { text: `${accepted(app)}\n`, act: "restart" };
    case "starter":
      return { text: `${reply(app, refusal("garbled", "which one"))}\n` };
  }
}

function facts(
  app: Application,
  about: "identity" | "senses",
  values: Record<string, string | undefined>,
  names: Readonly<Record<string, string>>,
): string[] {
  const facts = Object.entries(names).flatMap(([field, name]): [string, string][] => {
    const value = values[field];
    return value === undefined ? [] : [[name, value]];
  });
  return lineWriter(app.release, app.idiom).facts(about, facts);
}

/** What `sense` prints: attitude as the mounted board feels it, sticks only where the receiver is heard. */
function measured(app: Application, senses: Senses): string[] {
  const names = app.idiom.console.senses;
  const silent = senses.partsSilent === true;
  const parts = partsOf(app);
  // what other parts feel for it, it does not feel without them
  const gyroThere = gyroFound(app) && !(silent && parts.length > 0);
  const heard = senses.receiverPowered && receiverPort(app) !== undefined;
  const turn = mountingTurn(app) - senses.mountQuarters;
  const [roll, pitch] = turned(senses.roll, senses.pitch, turn);
  const values: Record<string, string | undefined> = {
    roll: gyroThere ? roll.toFixed(1) : undefined,
    pitch: gyroThere ? pitch.toFixed(1) : undefined,
    heading: gyroThere ? senses.heading.toFixed(1) : undefined,
    receiver: heard ? "heard" : senses.receiverPowered ? "silent" : "unpowered",
    battery: senses.batteryVolts.toFixed(1),
    second: senses.secondVolts?.toFixed(1),
    ...Object.fromEntries(names.sticks.map((_, i) => [`stick${i}`, heard ? String(senses.sticks[i] ?? 0) : undefined])),
  };
  for (const [part] of parts) values[part] = silent ? "silent" : "answers";
  return facts(app, "senses", values, {
    roll: names.roll,
    pitch: names.pitch,
    heading: names.heading,
    receiver: names.receiver,
    battery: names.battery,
    ...(names.secondBattery === undefined ? {} : { second: names.secondBattery }),
    ...Object.fromEntries(parts),
    ...Object.fromEntries(names.sticks.map((name, i) => [`stick${i}`, name])),
  });
}

/** Parts that the release cannot do without and its console speaks of, with the facts that name them. */
const partsOf = ({ release, idiom }: Application): [part: string, fact: string][] =>
  Object.entries(idiom.console.senses.parts ?? {}).filter(([part]) =>
    release.requires.some((requirement) => requirement.part === part),
  );

const MULTIPLIED = [
  [1, 0, 0, 1],
  [0, -1, 1, 0],
  [-1, 0, 0, -1],
  [0, 1, -1, 0],
] as const;

/** The board stands turned in the airframe by quarter turns; its setting must undo that for the angles to be true. */
function turned(roll: number, pitch: number, quarters: number): [number, number] {
  const [a, b, c, d] = MULTIPLIED[((quarters % 4) + 4) % 4] ?? MULTIPLIED[0];
  return [a * roll + b * pitch, c * roll + d * pitch];
}

/** How the board is turned in the airframe, in quarter turns, by the setting that the release's pins name. */
function mountingTurn(app: Application): number {
  const concept = app.release.pins?.mounted;
  const setting = concept === undefined ? undefined : app.release.settings.find((s) => s.concept?.id === concept);
  const value = setting && app.values.get(addressId({ scope: "system", key: setting.key }));
  return typeof value === "number" ? Math.round(value / 90) : 0;
}

/** A firmware looks for the gyro of its target; another one stays silent. */
const gyroFound = ({ target, hardware }: Application): boolean =>
  target.gyro !== "none" && (hardware ?? target).gyro === target.gyro;

/** A port that is led to other pads than the board has it on hears nothing. */
const portWired = ({ target, hardware }: Application, port: string): boolean =>
  ["R", "T"].every((line) => {
    const [there, here] = [hardware?.pads[`${line}${port}`], target.pads[`${line}${port}`]];
    return there === undefined || here === undefined || there === here;
  });

/** The port row that serves the receiver, on a port that the target has. */
function receiverPort(app: Application): string | undefined {
  const ports = app.release.pins?.ports;
  if (ports?.receiver === undefined) return undefined;
  const row = [...app.rows.values()].find((r) => r.table === ports.table && r.cells[ports.use] === ports.receiver);
  return row && app.target.ports.includes(Number(row.key)) && portWired(app, row.key) ? row.key : undefined;
}
