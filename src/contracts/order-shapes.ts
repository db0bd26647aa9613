import { boolean, lazy, mixed, number, object, string, type InferType, type ObjectSchema } from "yup";
import { trimmed } from "@/contracts/shapes";
import { BATTERIES } from "@/core/catalog";
import { AILMENT_SAYS, NO_FAULTS, type Ailment, type Faults } from "@/core/sim";

const step = () => string().max(40).required();
const degrees = () => number().min(-180).max(360).required();

/** What the interface may ask of a bench, each with its own shape. */
const shapes = {
  /** The serial port that a bay is from now on; null: the simulated socket. */
  "use-port": object({ path: string().max(200).nullable().defined() }),
  bring: object({ boardId: number().integer().positive().required() }),
  "take-out": object({}),
  plug: object({ button: boolean().default(false), pads: boolean().default(false) }),
  unplug: object({}),
  adapter: object({ wired: boolean().required() }),
  battery: object({ fitted: boolean().required(), which: string().oneOf(BATTERIES).default("battery") }),
  lean: object({ roll: degrees(), pitch: degrees(), heading: degrees() }),
  stick: object({
    index: number().integer().min(0).max(3).required(),
    pulse: number().integer().min(800).max(2200).required(),
  }),
  fault: object({
    name: string()
      .oneOf(Object.keys(NO_FAULTS) as (keyof Faults)[])
      .required(),
    value: number().integer().min(0).max(100_000).required(),
  }),
  /** A simulated board measures itself, in the way of its firmware. */
  calibrate: object({}),
  /** Does to a simulated board what brings boards to a bench. */
  afflict: object({
    ailment: string()
      .oneOf(Object.keys(AILMENT_SAYS) as Ailment[])
      .required(),
  }),
  clock: object({ factor: number().min(0.01).max(1000).required() }),
  decide: object({
    choices: mixed<Record<string, string>>(
      (value): value is Record<string, string> =>
        typeof value === "object" &&
        value !== null &&
        !Array.isArray(value) &&
        Object.entries(value as object).every(([k, v]) => k.length <= 200 && typeof v === "string" && v.length <= 40),
    ).required(),
  }),
  take: object({}),
  reopen: object({}),
  /** `reason`: why something that contradicts is taken all the same. */
  confirm: object({ step: step(), reason: trimmed().max(400) }),
  again: object({ step: step() }),
  /** Whoever does a check moved as asked, whatever the board says. */
  "as-asked": object({ step: step() }),
  /** The correction that follows from a failed check is written, proved and checked. */
  correct: object({ step: step() }),
  /** `writing`: though the board is being written to, and will not fly before another job has ended. */
  stop: object({ reason: trimmed().max(400).default(""), writing: boolean().default(false) }),
  sign: object({}),
  begin: object({}),
  "back-up": object({}),
  /** Whose board it is, and which model where the board does not say so itself. */
  give: object({
    tag: trimmed().max(16).required(),
    modelId: string().max(64).required(),
    replace: boolean().default(false),
    /** Why it is that model, though the board says otherwise. */
    reason: trimmed().max(400),
  }),
} satisfies Record<string, ObjectSchema<object>>;

export type OrderKind = keyof typeof shapes;
export type OrderBody = { [K in OrderKind]: { kind: K } & InferType<(typeof shapes)[K]> }[OrderKind];
export const ORDER_KINDS = Object.keys(shapes) as OrderKind[];

const strict = lazy((value: unknown) => {
  const kind = (value as { kind?: unknown } | null)?.kind;
  const shape = typeof kind === "string" && Object.hasOwn(shapes, kind) ? shapes[kind as OrderKind] : undefined;
  const base = object({ kind: string().oneOf(ORDER_KINDS).required() });
  return (shape ? base.concat(shape as unknown as typeof base) : base).noUnknown();
});

/** As pages send it: what has a value of its own may be left out. */
export type OrderAsk = { [K in OrderKind]: { kind: K } & Partial<InferType<(typeof shapes)[K]>> }[OrderKind];

export const checkOrder = (value: unknown): OrderBody => strict.validateSync(value) as unknown as OrderBody;
