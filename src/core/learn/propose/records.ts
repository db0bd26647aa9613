import { fieldOf, note, openLines, type Draft } from "@/core/learn/propose/sample";

type Json = Readonly<Record<string, unknown>>;

function asRecord(text: string): Json | undefined {
  if (!text.startsWith("{")) return undefined;
  try {
    const body: unknown = JSON.parse(text);
    return typeof body === "object" && body !== null && !Array.isArray(body) ? (body as Json) : undefined;
  } catch {
    return undefined;
  }
}

const isObject = (value: unknown): value is Json =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** One JSON record a line: which of its fields say what, by what all of them hold. */
export function proposeRecords(draft: Draft): boolean {
  const lines = openLines(draft);
  const records = lines.flatMap((line) => {
    const body = asRecord(line.text);
    return body ? [{ line, body }] : [];
  });
  if (records.length < 3 || records.length < lines.length * 0.6) return false;
  const holding = records.filter(({ body }) => Object.values(body).some(isObject));
  const names = [...new Set(holding.flatMap(({ body }) => Object.keys(body)))];
  const all = (name: string, fits: (value: unknown) => boolean) =>
    holding.every(({ body }) => name in body && fits(body[name]));
  const values = names.find((name) => all(name, isObject));
  const words = names.filter((name) => all(name, (value) => typeof value === "string"));
  const distinct = (name: string) => new Set(holding.map(({ body }) => body[name])).size;
  const section = words.toSorted((a, b) => distinct(b) - distinct(a))[0];
  const edition = words.find((name) => name !== section && distinct(name) === 1);
  const number = names.find((name) => name !== values && name !== section && name !== edition);
  if (values === undefined || section === undefined || number === undefined) return false;
  draft.forms.push({
    means: "record",
    json: { section, number, ...(edition === undefined ? {} : { edition }), values },
  } as never);
  for (const { line } of records) line.means = "record";
  note(
    draft,
    `One JSON record a line: “${section}” names a place, “${number}” its number, “${values}” holds the values`,
    0.95,
    records.map(({ line }) => line),
  );
  const profiles = holding.map(({ body, line }) => ({
    name: String(body[section]),
    number: body[number],
    keys: Object.keys(body[values] as Json),
    values: Object.values(body[values] as Json),
    line,
  }));
  const kinds = new Set(profiles.filter(({ number: n }) => typeof n === "number" && n > 0).map(({ name }) => name));
  // whose numbers begin at nothing are counted from there; what exists once says nothing by it
  const begins = [...kinds].filter((name) => profiles.some((each) => each.name === name && each.number === 0));
  if (begins.length > 0) draft.top.countFrom = 0;
  const active = profiles.find(
    ({ keys, values: held }) =>
      keys.length > 0 && keys.every((key) => kinds.has(key)) && held.every((value) => typeof value === "number"),
  );
  if (active) draft.recital.activeSection = active.name;
  const [first] = profiles;
  if (first && first !== active) draft.recital.factsSection = first.name;
  const last = profiles.at(-1);
  const [lineKey, checkKey] = last?.keys ?? [];
  if (last && last !== active && lineKey !== undefined && typeof last.values[0] === "number")
    draft.recital.endSection = {
      name: last.name,
      lines: lineKey,
      ...(checkKey === undefined ? {} : { check: checkKey }),
    };
  const named = new Map<string, number>();
  for (const { name, number: n } of profiles) if (typeof n === "string") named.set(name, (named.get(name) ?? 0) + 1);
  const system = [...named].toSorted((a, b) => b[1] - a[1])[0];
  if (system && system[1] >= 2) draft.recital.systemSection = system[0];
  const fresh = profiles.find(
    ({ keys, number: n, name }) => keys.length === 0 && typeof n === "string" && name !== system?.[0],
  );
  if (fresh) draft.recital.freshWord = String(fresh.number);
  for (const key of first?.keys ?? []) {
    const field = fieldOf(draft, key);
    if (field !== undefined) draft.facts[field] = key;
  }
  draft.spelling.on = "true";
  draft.spelling.off = "false";
  draft.spelling.listMark = ",";
  return true;
}
