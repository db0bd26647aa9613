import Link from "next/link";
import { AddAircraft } from "@/ui/fleet/add-aircraft";
import { attentionOf, fleetSentence } from "@/ui/fleet/attention";
import { Register } from "@/ui/fleet/register";
import { Mark } from "@/ui/base/mark";
import { LinkButton, Sheet } from "@/ui/base/parts";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { readRegister } from "@/server/repositories/fleet";
import { registerEntry } from "@/server/web/views";

const SHOWN = 3;

export default async function FleetPage() {
  const [register, catalogue] = [await readRegister(), await loadCatalogue()];
  const entries = register.map((row) => registerEntry(row, catalogue));
  const now = new Date().getTime();
  const attention = attentionOf(entries, now);
  return (
    <>
      <div className="mb-4 flex flex-wrap items-end justify-between gap-3">
        <h1>{fleetSentence(entries, now)}</h1>
        <div className="flex gap-2">
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
      <Register rows={entries} now={now} />
    </>
  );
}
