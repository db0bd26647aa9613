import type { Called, Touched } from "@/core/checks";
import { Folded } from "@/ui/base/folded";
import { Table } from "@/ui/base/table";
import { inWords } from "@/ui/base/words";

/** So many causes are told one by one. */
const TOLD = 3;

const told = ({ title, how, unsure }: Touched): string =>
  unsure ? `${title}: nobody can tell` : how === undefined ? `${title} means something else` : `${title}: ${how}`;

function Because({ because }: Pick<Called, "because">) {
  const rest = because.length - TOLD;
  return (
    <>
      {because.slice(0, TOLD).map((each) => (
        <span key={each.id} className="block">
          {told(each)}
        </span>
      ))}
      {rest > 0 && <span className="block text-faded">and {inWords(rest).toLowerCase()} more</span>}
    </>
  );
}

/** What would have to be shown anew if one side were made like the other: by what differs, and nothing else. */
export function ToShow({ called }: { readonly called: readonly Called[] }) {
  if (called.length === 0) return null;
  const names = called.map(({ kind }) => kind.title.toLowerCase().replace(/, .*/, "")).join(", ");
  return (
    <section aria-label="To be shown anew">
      <Folded
        className="min-h-6"
        head={`If one were made like the other, ${inWords(called.length).toLowerCase()} ${called.length === 1 ? "thing" : "things"} would have to be shown anew: ${names}`}
      >
        <div className="mt-2 overflow-x-auto">
          <Table
            label="What to show, and why"
            rows={called}
            keyOf={({ kind }) => kind.id}
            columns={[
              { head: "What", names: true, look: "text-left align-top", cell: ({ kind }) => kind.title },
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
                      Not: {showsNot.charAt(0).toLowerCase() + showsNot.slice(1)}
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
