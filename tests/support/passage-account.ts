import { defaultIn, hold, same, scopesIn, type AccountRelease, type Json, type Setting } from "./account-releases";
import { rowsAccount, type AccountSource, type Expected, type Step } from "./account-rows";
import { back, forth, meet, type Going, type Place } from "./account-values";

/** What becomes of a configuration on a way of passages. */
export function account(source: AccountSource, from: AccountRelease, route: Step[]): Expected {
  const to = route.at(-1)?.to ?? from;
  let places: Place[] = [...from.settings.values()].flatMap((setting) =>
    scopesIn(from, setting.scope).map((scope) => {
      const origin = `${scope}/${setting.key}`;
      const fallback = defaultIn(setting, source.target);
      const value = source.values[origin] ?? fallback;
      return {
        main: { origin, set: !same(value, fallback, setting.type), scope, key: setting.key, value },
        beside: [],
      };
    }),
  );
  const ended = new Set<string>();
  for (const { to: next, rules, forwards } of route) {
    const pass = (going: Going) => (forwards ? forth : back)({ ...going, aside: false }, rules, next, source.active);
    const arrived = new Map<string, { mains: Going[]; beside: Going[] }>();
    const has = ({ key, scope }: Going) => {
      const setting = next.settings.get(key);
      return setting !== undefined && scopesIn(next, setting.scope).includes(scope);
    };
    for (const { main, beside } of places) {
      for (const each of pass(main)) {
        if (!has(each)) continue;
        const id = `${each.scope}/${each.key}`;
        const there = arrived.get(id) ?? { mains: [], beside: [] };
        there.mains.push(each);
        arrived.set(id, there);
        for (const other of beside.flatMap(pass))
          if (`${other.scope}/${other.key}` === id && !there.beside.includes(other)) there.beside.push(other);
      }
    }
    places = [...arrived].map(([, { mains, beside }]) => {
      const setting = next.settings.get(mains[0]?.key ?? "");
      if (!setting) throw new Error("no setting");
      const { place } = meet(mains, rules, forwards, setting);
      return { main: place.main, beside: [...place.beside, ...beside] };
    });
  }
  const alive = new Set(places.flatMap(({ main, beside }) => [main, ...beside]).map(({ origin }) => origin));
  for (const setting of from.settings.values())
    for (const scope of scopesIn(from, setting.scope))
      if (!alive.has(`${scope}/${setting.key}`)) ended.add(`${scope}/${setting.key}`);
  const found = new Map(places.map((place) => [`${place.main.scope}/${place.main.key}`, place]));
  const expected: Expected["places"] = new Map();
  for (const setting of to.settings.values())
    for (const scope of scopesIn(to, setting.scope)) {
      const id = `${scope}/${setting.key}`;
      const place = found.get(id);
      const fallback = defaultIn(setting, source.target);
      expected.set(id, place ? settle(place, setting, fallback, source.processor) : { value: fallback });
    }
  return { places: expected, ended, ...rowsAccount(source, from, route) };
}

function settle({ main, beside: all }: Place, setting: Setting, fallback: Json, processor: string) {
  const most = setting.byProcessor[processor];
  const offers = (each: Going): Json[] => {
    const held = each.lost ? undefined : hold(each.value, setting.type, most);
    const felt = each.means?.felt === undefined ? undefined : hold(each.means.felt, setting.type, most);
    if (!held) return [];
    return felt && !same(felt.value, held.value, setting.type) ? [felt.value, held.value] : [held.value];
  };
  const own = main.lost ? undefined : hold(main.value, setting.type, most);
  const beside = all.filter((each) => !own || JSON.stringify(offers(each)) !== JSON.stringify(offers(main)));
  const wasSet = main.set || (all.length > 0 && beside.length === 0);
  if (beside.length > 0) {
    const offered = [main, ...beside].flatMap(offers);
    const complete = main.set && [main, ...beside].every((each) => offers(each).length > 0);
    return { offered: complete ? offered : [...offered, fallback] };
  }
  if (!own) return { offered: [fallback] };
  const silent = !wasSet && !same(own.value, fallback, setting.type);
  if (silent) return { offered: [...offers(main), fallback] };
  if (main.means || own.how === "limited") return { offered: offers(main) };
  return { value: own.value };
}
