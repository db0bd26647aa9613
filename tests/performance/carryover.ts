import {
  openItems,
  planCarryover,
  planUpdate,
  routeBetween,
  scriptOf,
  settlePlan,
  routesBetween,
  writerFor,
} from "@/core/carryover";
import { defaultConfiguration, idiomOf } from "@/core/idiom";
import { callsOf, groupsOf, memberPlan } from "@/core/campaign";
import { playOnTwin } from "@/core/job/twin";
import { findTarget, type Catalogue } from "@/core/catalog";
import { valueOf } from "@/core/problem";
import { madeCatalogue, nextRelease, number, releaseIn, setting, wholeRelease, writtenValues } from "../support/made";
import { catalogue as demo, release } from "../support/workshop";
import { worn } from "../support/worn";

const SETTINGS = 1600;
const ROUNDS = 15;

const median = (times: readonly number[]) => times.toSorted((a, b) => a - b)[Math.floor(times.length / 2)] ?? NaN;

function timed(work: () => void, rounds = ROUNDS): number {
  return median(
    Array.from({ length: rounds }, () => {
      const start = performance.now();
      work();
      return performance.now() - start;
    }),
  );
}

/** A line of releases, each with rules of every kind that speaks of settings for a fifth of them. */
function line(releases: number, settings: number): Catalogue {
  const key = (i: number, version: number) => (i % 10 === 0 ? `k${i}.v${version}` : `k${i}`);
  const first = wholeRelease(
    "line-1",
    Array.from({ length: settings }, (_, i) => setting(key(i, 1), number(0, 10_000), i % 100)),
  );
  const later = Array.from({ length: releases - 1 }, (_, n) => {
    const version = n + 2;
    const rules = Array.from({ length: settings }, (_, i) => i).flatMap((i): object[] => {
      if (i % 10 === 0) return [{ rule: "rename", key: key(i, version - 1), to: key(i, version) }];
      if (i % 20 === 3)
        return [{ rule: "rescale", key: key(i, version), factor: version % 2 === 0 ? 2 : 0.5, why: "Unit." }];
      return i % 20 === 7 ? [{ rule: "behaviour", key: key(i, version), why: "Otherwise." }] : [];
    });
    return nextRelease(`line-${version}`, `line-${version - 1}`, rules);
  });
  return madeCatalogue(first, ...later);
}

/** A lineage of many releases: lines that fork every ten releases, and are joined every fifty. */
function tangle(releases: number, settings: number): Catalogue {
  const documents = Array.from({ length: releases }, (_, i) => {
    if (i === 0)
      return wholeRelease(
        "road-0",
        Array.from({ length: settings }, (_, k) => setting(`k${k}`, number(0, 9), 1)),
      );
    const parent = i % 10 === 0 ? Math.max(0, i - 17) : i - 1;
    const rules = [{ rule: "behaviour", key: `k${i % settings}`, why: "x" }];
    const joins = i % 50 === 0 ? [{ from: `road-${i - 20}`, rules: [] }] : [];
    return nextRelease(`road-${i}`, `road-${parent}`, rules, { passages: joins });
  });
  return madeCatalogue(...documents);
}

/** The whole of a restore on a twin: lines, storing, restart, read-back, proof; in ms of this machine. */
async function twins(say: (text?: string) => void): Promise<void> {
  say("| on a twin | lines | board's s | ms |");
  say("| --- | --- | --- | --- |");
  for (const [fromId, toId, target, modelId] of [
    ["heddle-22", "heddle-24", "CSLATE-B", "corsley-slate"],
    ["treadle-71", "treadle-80", "FGULL", "fenwright-gull"],
    ["bobbin-40", "bobbin-41", "CSLATE-B", "corsley-slate"],
  ] as const) {
    const [from, to] = [release(fromId), release(toId)];
    const configuration = defaultConfiguration(from, target, { target });
    const plan = valueOf(planUpdate({ configuration, release: from }, to, target, demo()));
    const decisions = Object.fromEntries(openItems(plan, {}).map((item) => [item.id, item.choices[0]?.id ?? ""]));
    const idiom = demo().idioms.get(to.idiom);
    if (!idiom) throw new Error(to.idiom);
    const script = scriptOf(valueOf(settlePlan(plan, decisions, to)), to, writerFor(to, idiomOf(idiom)));
    const input = { releaseId: toId, target, modelId, plan, decisions, script };
    const times: number[] = [];
    let seconds = 0;
    for (let i = 0; i < 5; i++) {
      const start = performance.now();
      const end = valueOf(await playOnTwin(input, demo()));
      times.push(performance.now() - start);
      seconds = end.seconds;
    }
    say(`| ${fromId} to ${toId} | ${script.length} | ${seconds} | ${median(times).toFixed(0)} |`);
  }
  say();
}

/** Plans over many releases, the way through a large lineage, and plans played on a twin. */
export async function carryoverBench(say: (text?: string) => void): Promise<void> {
  say("## Carry-over");
  say();
  say(
    `Median of ${ROUNDS}. A fifth of the settings has a rule on every passage; the way, and what becomes of defaults on it, are known after the first plan. Aim: 50 ms for twelve releases.`,
  );
  say();
  say("| settings | releases | plan, ms | µs for a setting and passage |");
  say("| --- | --- | --- | --- |");
  for (const [settings, releases] of [
    [SETTINGS, 2],
    [SETTINGS, 6],
    [SETTINGS, 12],
    [SETTINGS / 4, 12],
  ] as const) {
    const catalogue = line(releases, settings);
    const [from, to] = [releaseIn(catalogue, "line-1"), releaseIn(catalogue, `line-${releases}`)];
    const target = findTarget(to, "T1");
    if (!target) throw new Error("no target");
    const source = writtenValues({ k1: 5, k3: 100 });
    const route = valueOf(routeBetween(catalogue, from, to));
    const ms = timed(() => void planCarryover({ source, from, to, target, route, whose: "this-board" }));
    const each = (ms * 1000) / settings / (releases - 1);
    say(`| ${settings} | ${releases} | ${ms.toFixed(1)} | ${each.toFixed(2)} |`);
  }
  say();
  const RELEASES = 500;
  const pair = (catalogue: Catalogue, i: number) => {
    const ids = [...catalogue.releases.keys()];
    return [releaseIn(catalogue, ids[i] ?? ""), releaseIn(catalogue, ids.at(-1 - i) ?? "")] as const;
  };
  const firstIn = (catalogue: Catalogue) => {
    const start = performance.now();
    const [route] = routesBetween(catalogue, ...pair(catalogue, 0));
    return { ms: performance.now() - start, hops: route?.through.length ?? 0 };
  };
  const catalogue = tangle(RELEASES, 60);
  const cold = firstIn(catalogue);
  const fresh = median(Array.from({ length: 7 }, () => firstIn(tangle(RELEASES, 60)).ms));
  let next = 1;
  const warm = timed(() => void routeBetween(catalogue, ...pair(catalogue, next++)));
  const again = timed(() => void routeBetween(catalogue, ...pair(catalogue, 0)));
  say(
    `A way through ${RELEASES} releases of 60 settings (${cold.hops} on it), with the others that it is held against: the first in a catalogue ${fresh.toFixed(1)} ms (${cold.ms.toFixed(1)} ms while the program itself is cold), another between other releases ${warm.toFixed(1)} ms, one that is known ${again.toFixed(3)} ms. Aim: 20 ms.`,
  );
  say();
  fleet(say);
  await twins(say);
}

const FLEET = 200;

/** What each of many aircraft would meet, and what they share: every one worn in its own way. */
function fleet(say: (line?: string) => void): void {
  const [from, to] = [release("heddle-22"), release("heddle-23")];
  const identity = { family: from.family, release: from.version, target: "CSLATE-B" };
  const readings = Array.from({ length: FLEET }, (_, i) => worn(from, identity, i));
  const start = performance.now();
  const plans = readings.map((configuration, i) =>
    memberPlan(`A-${i}`, valueOf(planUpdate({ configuration, release: from }, to, "CSLATE-B", demo()))),
  );
  const calls = callsOf(plans);
  const groups = groupsOf(plans);
  say(
    `A campaign of ${FLEET} aircraft, heddle-22 to heddle-23, every one worn in its own way: ${Math.round(performance.now() - start)} ms for all plans, their ${calls.length} decisions and ${groups.length} groups.`,
  );
  say();
}
