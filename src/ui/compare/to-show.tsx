import type { Called, Touched } from "@/core/checks";
import { Folded } from "@/ui/base/folded";
import { Table } from "@/ui/base/table";
import { inWords } from "@/ui/base/words";

/** So many causes are told one by one. */
const TOLD = 3;

const told = ({ title, how, unsure }: Touched): string =>
  unsure ? `${title}: not known` : `${title}: ${how ?? "another meaning on the other build"}`;

function Because({ because }: Pick<Called, "because">) {
  const says = [...new Set(because.map(told))];
  const rest = says.length - TOLD;
  return (
    <>
      {says.slice(0, TOLD).map((each) => (
        <span key={each} className="block">
          {each}
        </span>
      ))}
      {rest > 0 && <span className="block text-faded">and {inWords(rest).toLowerCase()} more</span>}
    </>
  );
}

/** The checks that a change from one side to the other calls for: by what differs, and nothing else. */
export function ToShow({ called }: { readonly called: readonly Called[] }) {
  if (called.length === 0) return null;
  const names = called.map(({ kind }) => kind.title.toLowerCase().replace(/, .*/, "")).join(", ");
  return (
    <section aria-label="Checks called for">
      <Folded
        className="min-h-6"
        head={`A change from one side to the other calls for ${inWords(called.length).toLowerCase()} ${called.length === 1 ? "check" : "checks"}: ${names}`}
      >
        <div className="mt-2 overflow-x-auto">
          <Table
            label="Checks, and why"
            rows={called}
            keyOf={({ kind }) => kind.id}
            columns={[
              { head: "Check", names: true, look: "text-left align-top", cell: ({ kind }) => kind.title },
              { head: "Because", look: "align-top", cell: (each) => <Because {...each} /> },
              {
                head: "How",
                look: "align-top",
                cell: ({ kind: { before, does } }) => (
                  <>
                    {before.length > 0 && <span className="block text-faded">First: {before.join(", ")}.</span>}
                    {does}
                  </>
                ),
              },
              {
                head: "What it shows",
                look: "align-top",
                cell: ({ kind: { shows, showsNot } }) => (
                  <>
                    {shows}
                    <span className="block text-faded">
                      Not shown: {showsNot.charAt(0).toLowerCase() + showsNot.slice(1)}
                    </span>
                  </>
                ),
              },
            ]}
          />
        </div>
      </Folded>
    </section>
  );
}
