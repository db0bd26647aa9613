import { stringify } from "yaml";
import { columnsOf, type Catalogue, type Release, type ReleaseTarget, type TableDefinition } from "@/core/catalog";

/** A line of a sheet that is not taken over, and why. */
export interface RefusedLine {
  readonly line: number;
  readonly text: string;
  readonly why: string;
}

/** What a maker's pad sheet comes out as for one release: a target, and what is known of the board. */
export interface PadSheet {
  readonly target: ReleaseTarget;
  readonly about: Readonly<Partial<Record<About, string>>>;
  /** What pads and ports are used for as the maker delivers them. */
  readonly defaults: Readonly<Record<string, string>>;
  readonly refused: readonly RefusedLine[];
}

const ABOUT = ["board", "maker", "printed", "revision", "target", "processor", "gyro", "usb", "boot"] as const;
/** Without these a board cannot be kept: nothing of it is made up. */
const NEEDED = ["board", "maker", "processor", "gyro", "usb", "boot"] as const;
type About = (typeof ABOUT)[number];
const MAX_LINES = 2_000;
const TIMER = /^\d{1,2} channel \d{1,2}$/;
/** Vendor and product of its USB device (USB 2.0, 9.6.1), as four hexadecimal digits each. */
const USB = /^(?:0x)?([0-9a-f]{4}):(?:0x)?([0-9a-f]{4})$/i;
const BOOT = { none: [], button: ["button"], pads: ["pads"], "button and pads": ["button", "pads"] } as const;
const PORT = /^(\d{1,2}) (in and out|in|out)(, soft)?$/;

/** `pad: M1; timer: 2 channel 1; default: front left` → its fields; undefined where a part has no colon. */
function fieldsOf(text: string): Map<string, string> | undefined {
  const fields = new Map<string, string>();
  for (const part of text.split(";")) {
    const colon = part.indexOf(":");
    if (colon < 0 || fields.has(part.slice(0, colon).trim())) return undefined;
    fields.set(part.slice(0, colon).trim(), part.slice(colon + 1).trim());
  }
  return fields;
}

/** Words that a table's column takes; undefined where it takes any. */
function wordsOf(table: TableDefinition | undefined, column: string): readonly string[] | undefined {
  const type = table && columnsOf(table).find(({ name }) => name === column)?.type;
  return type?.kind === "choice" ? type.options : undefined;
}

class Sheet {
  readonly about: Partial<Record<About, string>> = {};
  readonly pads: Record<string, string> = {};
  readonly ports = new Set<number>();
  readonly defaults: Record<string, string> = {};
  readonly refused: RefusedLine[] = [];

  constructor(
    private readonly release: Release,
    private readonly catalogue: Catalogue,
  ) {}

  /** Takes a line over; gives why not. */
  take(text: string): string | undefined {
    const fields = fieldsOf(text);
    if (!fields) return "It is no list of fields, each a name, a colon and what it says";
    if (fields.has("pad")) return this.takePad(fields);
    const [[name = "", value = ""] = []] = fields;
    if (fields.size > 1) return "Only pads have several fields on a line";
    if (!ABOUT.includes(name as About)) return `This family knows no “${name}”`;
    // a line that is still to be filled in
    if (value === "") return undefined;
    if (this.about[name as About] !== undefined) return `“${name}” stands on an earlier line already`;
    if (name === "processor" && !this.catalogue.processors.has(value))
      return `The catalogue has no processor “${value}”`;
    if (name === "usb" && !USB.test(value)) return `A USB identity is written “1a2b:3c4d”, not “${value}”`;
    if (name === "boot" && !Object.hasOwn(BOOT, value))
      return `What leads into its loader is one of: ${Object.keys(BOOT).join(", ")}`;
    this.about[name as About] = value;
    return undefined;
  }

  private takePad(fields: ReadonlyMap<string, string>): string | undefined {
    const pad = fields.get("pad") ?? "";
    const strange = [...fields.keys()].find((name) => !["pad", "timer", "port", "default"].includes(name));
    if (strange !== undefined) return `This family knows no “${strange}” of a pad`;
    if (!/^[A-Za-z0-9+-]{1,12}$/.test(pad)) return "A pad has a name of at most 12 letters and digits";
    if (Object.hasOwn(this.pads, pad)) return `${pad} stands on an earlier line already`;
    const [timer, port, use] = [fields.get("timer"), fields.get("port"), fields.get("default")];
    if ((timer === undefined) === (port === undefined)) return "A pad is at a timer or at a port, and at one of them";
    return timer === undefined ? this.takePortPad(pad, port ?? "", use) : this.takeTimerPad(pad, timer, use);
  }

  private takeTimerPad(pad: string, timer: string, use: string | undefined): string | undefined {
    if (!TIMER.test(timer)) return `A timer is written “2 channel 1”, not “${timer}”`;
    const { pins } = this.release;
    const table = this.release.tables.find(({ name }) => name === pins?.outputs.table);
    const why = use === undefined ? undefined : this.refuseUse(use, wordsOf(table, pins?.outputs.use ?? ""));
    if (why !== undefined) return why;
    this.pads[pad] = `timer ${timer}`;
    if (use !== undefined) this.defaults[pad] = use;
    return undefined;
  }

  private takePortPad(pad: string, port: string, use: string | undefined): string | undefined {
    const found = PORT.exec(port);
    if (!found) return `A port is written “3 in”, “3 out” or “3 in and out”, not “${port}”`;
    const { pins } = this.release;
    const table = this.release.tables.find(({ name }) => name === pins?.ports.table);
    const type = table?.keys[0]?.type;
    const number = Number(found[1]);
    if (type?.kind === "number" && (number < type.min || number > type.max))
      return `This family has ports ${type.min} to ${type.max}`;
    const why = use === undefined ? undefined : this.refuseUse(use, wordsOf(table, pins?.ports.use ?? ""));
    if (why !== undefined) return why;
    this.pads[pad] = `port ${port}`;
    this.ports.add(number);
    if (use !== undefined) this.defaults[`port ${number}`] = use;
    return undefined;
  }

  private refuseUse(use: string, words: readonly string[] | undefined): string | undefined {
    return words === undefined || words.includes(use.replaceAll(" ", "-"))
      ? undefined
      : `This family serves no “${use}” there`;
  }
}

/**
 * Reads a maker's pad sheet for a release: one line a pad (`pad: …; timer: …; default: …` or `pad: …; port: …`), others
 * say what the board is; `#` begins a remark. Lines that the family refuses are left out, each with its reason.
 */
export function readPadSheet(text: string, release: Release, catalogue: Catalogue): PadSheet {
  const sheet = new Sheet(release, catalogue);
  const lines = text.split(/\r?\n/);
  for (const [i, line] of lines.slice(0, MAX_LINES).entries()) {
    const plain = line.replace(/#.*$/, "").trim();
    if (plain === "") continue;
    const why = sheet.take(plain);
    if (why !== undefined) sheet.refused.push({ line: i + 1, text: line.slice(0, 200), why });
  }
  if (lines.length > MAX_LINES)
    sheet.refused.push({
      line: MAX_LINES + 1,
      text: (lines[MAX_LINES] ?? "").slice(0, 200),
      why: `${lines.length - MAX_LINES} lines from here on were not read: a sheet has at most ${MAX_LINES}`,
    });
  const { about, pads, ports, defaults, refused } = sheet;
  const target: ReleaseTarget = {
    id: about.target ?? (about.board ?? "").toUpperCase().replace(/[^A-Z0-9]+/g, "-"),
    aliases: [],
    processor: about.processor ?? "",
    gyro: about.gyro ?? "",
    ports: [...ports].toSorted((a, b) => a - b),
    pads,
  };
  return { target, about, defaults, refused };
}

/** What a sheet still lacks to be kept as documents. */
export const lacksOf = ({ about }: PadSheet): string[] => NEEDED.filter((name) => about[name] === undefined);

/** The sheet as documents: the board, and a special of the release that is built for it. YAML, to be imported as they are. */
export function sheetDocuments(
  { target, about }: PadSheet,
  release: Release,
): { readonly board: string; readonly release: string } {
  const id = target.id.toLowerCase();
  const { id: name, processor, gyro, ports, pads } = target;
  const [, vendor = "0", product = "0"] = USB.exec(about.usb ?? "") ?? [];
  const ways: readonly string[] = BOOT[(about.boot ?? "none") as keyof typeof BOOT];
  return {
    board: stringify({
      document: "board-model",
      id,
      title: about.board ?? target.id,
      maker: about.maker ?? "",
      revision: about.revision ?? "A",
      processor: target.processor,
      target: target.id,
      printed: about.printed ?? about.board ?? target.id,
      bootButton: ways.includes("button"),
      bootPads: ways.includes("pads"),
      receiverOnUsb: true,
      usb: { vendorId: parseInt(vendor, 16), productId: parseInt(product, 16) },
    }),
    release: stringify({
      document: "release",
      id: `${release.id}-${id}`,
      family: release.family,
      version: `${release.version}-${id}`.slice(0, 24),
      standing: "experimental",
      builtOn: release.builtOn,
      inherits: release.id,
      region: release.region,
      targets: [{ id: name, processor, gyro, ports, pads }],
    }),
  };
}
