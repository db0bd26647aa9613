import {
  findTarget,
  padsOfRow,
  type Catalogue,
  type FirmwareTarget,
  type Release,
  type ReleaseTarget,
} from "@/core/catalog";
import { targetLines } from "@/core/identify/candidate";

/** A pad that two targets do not serve alike. */
export interface PadChange {
  readonly pad: string;
  /** What the firmware has on it; empty where the target does not serve it. */
  readonly here: string;
  readonly there: string;
  /** What this aircraft uses it for; empty: nothing, so nothing breaks. */
  readonly uses: string;
}

/** How a target stands to another one of the same processor. */
export interface Nearness {
  readonly target: ReleaseTarget;
  /** Absent where both look for the same. */
  readonly gyro?: { readonly here: string; readonly there: string };
  readonly pads: readonly PadChange[];
  /** Changes that break something this aircraft uses; a gyro that is not looked for breaks everything. */
  readonly breaks: number;
}

/** A pad by name → what an aircraft uses it for. */
export type PadUses = ReadonlyMap<string, string>;

const servedBy = (target: ReleaseTarget): Map<string, string> => {
  const served = new Map(Object.entries(target.pads));
  for (const port of target.ports) served.set(`port ${port}`, "in and out");
  return served;
};

/** Pad by pad, and gyro: what changes when `there` runs where `here` did. */
export function compareTargets(here: ReleaseTarget, there: ReleaseTarget, uses: PadUses = new Map()): Nearness {
  const [own, other] = [servedBy(here), servedBy(there)];
  const names = [...new Set([...own.keys(), ...other.keys()])];
  const pads = names.flatMap((pad): PadChange[] => {
    const change = { pad, here: own.get(pad) ?? "", there: other.get(pad) ?? "", uses: uses.get(pad) ?? "" };
    return change.here === change.there ? [] : [change];
  });
  const gyro = here.gyro === there.gyro ? undefined : { here: here.gyro, there: there.gyro };
  const breaks = pads.filter((pad) => pad.uses !== "").length + (gyro ? 1 : 0);
  return { target: there, pads, breaks, ...(gyro ? { gyro } : {}) };
}

/**
 * The targets of a release for the processor of another target, the nearest first: those under which least of what this
 * aircraft uses breaks, then those that differ least at all.
 */
export function nearestTargets(
  here: ReleaseTarget,
  release: { readonly targets: readonly ReleaseTarget[] },
  uses: PadUses = new Map(),
): Nearness[] {
  const weight = ({ gyro, pads, breaks }: Nearness) => (gyro ? 1000 : 0) + 100 * breaks + pads.length;
  return release.targets
    .filter(({ processor }) => processor === here.processor)
    .map((there) => compareTargets(here, there, uses))
    .toSorted((a, b) => weight(a) - weight(b) || (a.target.id < b.target.id ? -1 : 1));
}

/** A target that explains refusals better than the one that runs. */
export interface LikelyTarget {
  readonly target: FirmwareTarget;
  /** Of the refused pads, those that it serves otherwise. */
  readonly explains: readonly string[];
}

/** So many refusals together are no accident. */
const TOGETHER = 2;

/**
 * Whether refusals come of the wrong target. `refused`: pads that refused rows are about. The likeliest first; none where
 * no other target of the processor serves at least two of them, and all of them, otherwise than the one that runs.
 */
export function targetsBehind(
  running: ReleaseTarget,
  release: { readonly targets: readonly ReleaseTarget[] },
  refused: readonly string[],
): LikelyTarget[] {
  const asked = [...new Set(refused)];
  if (asked.length < TOGETHER) return [];
  const found = release.targets
    .filter((target) => target.processor === running.processor && target.id !== running.id)
    .map((target) => ({ target, change: compareTargets(running, target) }))
    .filter(({ change }) => asked.every((pad) => change.pads.some((p) => p.pad === pad && p.there !== "")));
  return found
    .toSorted((a, b) => a.change.pads.length - b.change.pads.length || (a.target.id < b.target.id ? -1 : 1))
    .map(({ target }) => ({ target, explains: asked }));
}

/** The same from refused rows, over every target that the workshop knows for the processor, specials included. */
export function suspectsFor(
  catalogue: Catalogue,
  release: Release | undefined,
  targetName: string,
  refused: readonly { readonly table: string; readonly key: string }[],
): LikelyTarget[] {
  const running = release && findTarget(release, targetName);
  const pins = release?.pins;
  if (!running || !pins) return [];
  const pads = refused.flatMap(({ table, key }) => padsOfRow(pins, running, table, key));
  const others = targetLines(catalogue).flatMap(({ builds }) => builds.at(-1)?.target ?? []);
  return targetsBehind(running, { targets: others }, pads);
}

/** “LED and R4 were refused together: likely the wrong target…” */
export function suspectSentence(suspects: readonly LikelyTarget[], running: string): string | undefined {
  const [first] = suspects;
  if (!first) return undefined;
  const pads = first.explains.join(" and ");
  const names = suspects.map(({ target }) => target.id).join(" or ");
  return `${pads} were refused together: that is no accident, the board is likely no ${running} but ${names}. Look at what is printed on it before it flies.`;
}
