import type { Catalogue, Firmware } from "@/core/catalog";
import { equalValues, showValue } from "@/core/config";
import { arrive, type Compared } from "@/core/compare/carry";
import { resolve, type Resolved } from "@/core/compare/resolved";

/** A read-out of an aircraft at a time, in ms since 1970. */
export interface Reading extends Compared {
  readonly id: number;
  readonly at: number;
}

/** What was read at a time, as of the release of the newest reading. */
export interface Told {
  readonly id: number;
  readonly at: number;
  readonly resolved: Resolved;
}

/** Readings, oldest first, all as of one release; one that cannot be carried there is left out. */
export function asOf(
  readings: readonly Reading[],
  wanted: Firmware,
  catalogue: Catalogue,
  target: string | undefined,
): Told[] {
  return readings.flatMap(({ id, at, configuration, release }): Told[] => {
    if (release.id === wanted.id) return [{ id, at, resolved: resolve(configuration, release) }];
    const arrived = arrive({ configuration, release }, wanted, catalogue, target);
    return arrived.ok ? [{ id, at, resolved: arrived.value.resolved }] : [];
  });
}

/** The same, as of the release of the last. */
export function asOfNewest(readings: readonly Reading[], catalogue: Catalogue): Told[] {
  const newest = readings.at(-1);
  return newest ? asOf(readings, newest.release, catalogue, newest.configuration.identity.target) : [];
}

/** Since when a value of one side has been what it is: times in ms since 1970; `oldest`: as far back as anybody read. */
export interface Since {
  readonly id: number;
  readonly at: number;
  readonly oldest: boolean;
}

/**
 * Since when two sides have differed as they do, place by place: the later of the two changes that led to it, and on which
 * side that was. A side without a history was always as it is.
 */
export function sinceOfBoth(
  left: readonly Told[],
  right: readonly Told[],
): Map<string, Since & { readonly side: "left" | "right" }> {
  const both = new Map<string, Since & { readonly side: "left" | "right" }>();
  const note = (side: "left" | "right", history: readonly Told[]) => {
    const first = history[0]?.id;
    for (const [id, found] of sinceWhen(history)) {
      const known = both.get(id);
      const oldest = found.id === first;
      // what was so when a side was first read says less than a change that was seen
      const later = !known || (known.oldest && !oldest) || (known.oldest === oldest && found.at > known.at);
      if (later) both.set(id, { ...found, oldest, side });
    }
  };
  note("left", left);
  note("right", right);
  return both;
}

/** Since which reading each value has been what it is now: the first of the unbroken run that ends with the newest. */
export function sinceWhen(history: readonly Told[]): Map<string, { readonly id: number; readonly at: number }> {
  const newest = history.at(-1);
  const since = new Map<string, { id: number; at: number }>();
  if (!newest) return since;
  const trace = (id: string, alike: (then: Resolved) => boolean) => {
    let first = newest;
    for (let i = history.length - 2; i >= 0; i--) {
      const reading = history[i];
      if (!reading || !alike(reading.resolved)) break;
      first = reading;
    }
    since.set(id, { id: first.id, at: first.at });
  };
  const { values, rows, active } = newest.resolved;
  for (const [id, now] of values)
    trace(id, (then) => {
      const old = then.values.get(id);
      return old !== undefined && equalValues(old.value, now.value, now.setting.type);
    });
  const cellsOf = (side: Resolved, id: string) =>
    JSON.stringify(Object.entries(side.rows.get(id)?.cells ?? {}).toSorted());
  for (const id of rows.keys()) trace(`row ${id}`, (then) => cellsOf(then, id) === cellsOf(newest.resolved, id));
  for (const [kind, number] of Object.entries(active))
    trace(`active ${kind}`, (then) => (then.active[kind] ?? 1) === number);
  return since;
}

/** One value over time: what was read, and when; numbers beside the text where there are any. */
export function valueOverTime(
  history: readonly Told[],
  id: string,
): {
  readonly id: number;
  readonly at: number;
  readonly shown: string;
  readonly value?: number;
  readonly explicit: boolean;
}[] {
  return history.flatMap((reading) => {
    const found = reading.resolved.values.get(id);
    const doubt = reading.resolved.open.values.get(id);
    if (doubt) return [{ id: reading.id, at: reading.at, shown: "not known", explicit: true }];
    if (!found) return [];
    return [
      {
        id: reading.id,
        at: reading.at,
        shown: showValue(found.value, found.setting.type),
        explicit: found.explicit,
        ...(typeof found.value === "number" ? { value: found.value } : {}),
      },
    ];
  });
}
