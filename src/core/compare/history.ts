import type { Catalogue } from "@/core/catalog";
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

/** Readings, oldest first, all as of the release of the last; one that cannot be carried there is left out. */
export function asOfNewest(readings: readonly Reading[], catalogue: Catalogue): Told[] {
  const newest = readings.at(-1);
  if (!newest) return [];
  return readings.flatMap(({ id, at, configuration, release }): Told[] => {
    if (release.id === newest.release.id) return [{ id, at, resolved: resolve(configuration, release) }];
    const arrived = arrive({ configuration, release }, newest.release, catalogue, newest.configuration.identity.target);
    return arrived.ok ? [{ id, at, resolved: arrived.value.resolved }] : [];
  });
}

/** Since which reading each value has been what it is now: the first of the unbroken run that ends with the newest. */
export function sinceWhen(history: readonly Told[]): Map<string, { readonly id: number; readonly at: number }> {
  const newest = history.at(-1);
  const since = new Map<string, { id: number; at: number }>();
  if (!newest) return since;
  const trace = (id: string, alike: (then: Resolved) => boolean) => {
    let first = newest;
    for (let i = history.length - 2; i >= 0; i--) {
      const told = history[i];
      if (!told || !alike(told.resolved)) break;
      first = told;
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
  return history.flatMap((told) => {
    const found = told.resolved.values.get(id);
    const doubt = told.resolved.open.values.get(id);
    if (doubt) return [{ id: told.id, at: told.at, shown: "not known", explicit: true }];
    if (!found) return [];
    return [
      {
        id: told.id,
        at: told.at,
        shown: showValue(found.value, found.setting.type),
        explicit: found.explicit,
        ...(typeof found.value === "number" ? { value: found.value } : {}),
      },
    ];
  });
}
