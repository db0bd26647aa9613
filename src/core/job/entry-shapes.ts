import { array, boolean, mixed, number, object, string } from "yup";
import type { Problem } from "@/core/problem";
import type { AnyResult, StepName } from "@/core/job/actions";

const text = () => string().max(4000).required();
const hash = () => string().max(64);
const step = () => string<StepName>().max(4000).required();
const texts = () => array(string().max(4000).defined());
const isObject = (value: unknown): boolean => typeof value === "object" && value !== null && !Array.isArray(value);
const kept = <T extends object>() => mixed<T>((value): value is T => isObject(value));

/**
 * What a step waits for: everything that a person or the board has to do is one of these. What earlier versions did not
 * write may be missing.
 */
export const NEEDS = {
  decisions: object({ say: text(), open: number().integer().required() }),
  /**
   * Everything is decided: somebody takes the plan by their word. `asks` are reasons to think, which only a lead may pass over;
   * `looks` came out otherwise on its twin, or have changed since the job was ordered: to be looked at. The script that was
   * written, and how the twin ended with it, by their hashes.
   */
  take: object({ say: text(), asks: texts().required(), looks: texts(), script: hash(), twin: hash() }),
  /** `word`: what a person says by confirming. */
  confirm: object({ say: text(), asks: texts().required(), word: string().max(200) }),
  /** The board says something else than what it is taken for: both readings of each sign. */
  against: object({
    say: text(),
    readings: array(
      object({
        sign: string().max(200).required(),
        taken: string().max(400).required(),
        seen: string().max(400).required(),
        speaksFor: texts().required(),
      }),
    ).required(),
  }),
  board: object({ say: text(), asks: texts().required(), countdownS: number() }),
  /** A check that failed: what it means, and the correction that follows, if one does. */
  check: object({
    say: text(),
    correction: object({
      itemId: string().max(200).required(),
      value: number().required(),
      label: string().max(200).required(),
    })
      .default(undefined)
      .optional(),
  }),
  sense: object({ say: text(), expected: string().max(400).required() }),
  sign: object({ say: text() }),
  again: object({ say: text() }),
} as const;

export const NOTE_CODES = [
  "word-swallowed",
  "stayed-away",
  "link-lost",
  "by-hand",
  "rested",
  "too-early",
  "fed",
  "battery-in",
  "part-silent",
  "as-asked",
  "not-so",
] as const;

const spec = object({
  id: string().max(60).required(),
  title: string().max(400).required(),
  why: string().max(400).required(),
  writes: boolean(),
  shows: string().max(200),
});

/** Lines of the append-only record, as far as they concern a job; `waits` beside them, whose need has shapes of its own. */
export const ENTRIES = {
  /** `documents`: hash of the list of document versions that the job rests on. */
  ordered: object({ headline: text(), documents: hash() }),
  /** The world turned out otherwise than foretold: from here on these steps, and why. */
  planned: object({ steps: array(spec).min(1).max(60).required(), because: text() }),
  started: object({ step: step() }),
  /** `code` is what the product goes by; the text is for people. */
  noted: object({ step: step(), text: text(), code: string().oneOf(NOTE_CODES) }),
  /**
   * So many lines of the step's script are stored on the board, whatever happens to it now; `answers` by their hash.
   * `started`: it has started since, or a hand starts it next.
   */
  stored: object({
    step: step(),
    lines: number().integer().min(0).required(),
    answers: hash().required(),
    started: boolean(),
  }),
  done: object({ step: step(), evidence: text(), data: kept<AnyResult>().required() }),
  failed: object({
    step: step(),
    problem: object({
      code: text(),
      message: text(),
      detail: string().max(4000),
      hint: string().max(4000),
      where: mixed<NonNullable<Problem["where"]>>(),
    }).required(),
  }),
  interrupted: object({ step: step(), text: text() }),
  /** `after`: whose word for all it follows, where that was needed. */
  decided: object({ choices: kept<Readonly<Record<string, string>>>().required(), after: string().max(400) }),
  taken: object({}),
  /** The plan is laid open again: nothing was sent yet. */
  reopened: object({}),
  /** `signs`: what contradicts and is taken all the same, with the reason. */
  confirmed: object({ step: step(), signs: array(string().max(800).defined()), reason: string().max(400) }),
  /** `wrong`: it was moved as asked, by somebody’s word, and this is what was seen. `pose` in degrees, where it was measured. */
  passed: object({
    step: step(),
    ask: text(),
    seen: text(),
    wrong: boolean(),
    pose: object({ roll: number().required(), pitch: number().required() }).default(undefined).optional(),
  }),
  /** A value of the plan is another one after a check: it is written, proved and checked again. Plan and script by their hashes. */
  amended: object({
    step: step(),
    itemId: text(),
    shown: text(),
    why: text(),
    planSha: hash().required(),
    scriptSha: hash().required(),
  }),
  again: object({ step: step() }),
  /** `person`: what whoever signed is called by, where it was said. */
  signed: object({ statement: text(), person: string().max(80) }),
  /** `entries`: how many the visit had before this one, so that none can be left out of its papers. */
  finished: object({ entries: number().integer().min(0) }),
  stopped: object({ reason: text(), entries: number().integer().min(0) }),
} as const;
