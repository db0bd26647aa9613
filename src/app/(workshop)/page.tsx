import Link from "next/link";
import { AddAircraft } from "@/ui/fleet/add-aircraft";
import { attentionOf, fleetSentence } from "@/ui/fleet/attention";
import { Register } from "@/ui/fleet/register";
import { Mark } from "@/ui/base/mark";
import { BUTTON_LOOK, LinkButton, Sheet } from "@/ui/base/parts";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { REGISTER_SHOWN, searchRegister } from "@/server/repositories/fleet";
import { registerEntry } from "@/server/web/views";

const SHOWN = 3;

interface Props {
  readonly searchParams: Promise<Record<string, string | string[] | undefined>>;
}

export default async function FleetPage({ searchParams }: Props) {
  const { q } = await searchParams;
  const query = typeof q === "string" ? q.slice(0, 80) : "";
  const [register, catalogue] = await Promise.all([searchRegister(""), loadCatalogue()]);
  const whole = register.total <= REGISTER_SHOWN;
  // a small fleet is narrowed while one types; of a large one the server gives the part that fits
  const found = whole || query === "" ? register : await searchRegister(query);
  const entries = found.rows.map((row) => registerEntry(row, catalogue));
  const now = new Date().getTime();
  const attention = attentionOf(entries, now);
  return (
    <>
      <div className="mb-4 flex flex-wrap items-end justify-between gap-3">
        <h1>{whole ? fleetSentence(entries, now) : `${register.total} aircraft.`}</h1>
        <div className="flex flex-wrap gap-2">
          <AddAircraft />
          <LinkButton href="/backups/file">File read-outs</LinkButton>
          <LinkButton href="/bench/1" look="main">
            Order a job
          </LinkButton>
        </div>
      </div>
      {attention.length > 0 && (
        <Sheet label="Needs attention" className="mb-5 grid grid-cols-3 max-md:grid-cols-1">
          {attention.slice(0, SHOWN).map((item, i) => (
            <div
              key={item.tag}
              className={`px-4 py-3 ${i > 0 ? "border-l border-rule max-md:border-t max-md:border-l-0" : ""}`}
            >
              <h2 className="flex items-center gap-2 text-[15px]">
                <Mark mark={item.mark} />
                {item.title}
              </h2>
              <p className="mt-1 text-sm">
                {item.say} <Link href={item.href}>{item.todo}</Link>
              </p>
            </div>
          ))}
        </Sheet>
      )}
      {!whole && (
        <form className="mb-3 flex flex-wrap items-center gap-2 text-sm" role="search">
          <label className="flex items-center gap-2">
            Search the whole fleet
            <input
              type="search"
              name="q"
              defaultValue={query}
              maxLength={80}
              className="min-h-8 w-56 rounded-base border border-edge bg-sheet px-2.5"
            />
          </label>
          <button type="submit" className={BUTTON_LOOK.plain}>
            Search
          </button>
          <span className="text-faded">
            {entries.length} of {register.total} are shown, those out of service first.
          </span>
        </form>
      )}
      <Register rows={entries} now={now} />
    </>
  );
}
