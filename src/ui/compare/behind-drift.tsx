import type { Drift } from "@/core/compare";
import { Link } from "@/ui/base/link";
import { StateShape } from "@/ui/base/mark";
import { Sheet } from "@/ui/base/parts";
import { Table } from "@/ui/base/table";
import { driftLines } from "@/ui/compare/drift-lines";

interface Behind {
  readonly drift: Drift;
  readonly held: number;
  readonly read: number;
  readonly unread: readonly { readonly tag: string; readonly places: readonly string[] }[];
}

/** How what is behind the boards of a type stands off its standard; empty where there is nothing to say. */
export function behindSentence({ drift: { rows }, held, read, unread }: Behind): string {
  if (read === 0 && held === 0) return "";
  if (held === 0) return "Its standard was read out without parts: of what is behind the boards nothing is said.";
  // what a read-out leaves open is neither as the standard nor otherwise
  const off = rows.filter(({ cells }) => cells.some(({ unsure }) => unsure !== true)).length;
  if (rows.length === 0) return "Of what is behind the boards nothing was read.";
  const partly = unread.filter(({ tag }) => rows.some((row) => row.tag === tag)).length;
  const open = rows.filter(({ cells }) => cells.some(({ unsure }) => unsure === true)).length;
  const tail = `${partly === 0 ? "" : ` Of ${partly} not every part is known.`}${open === 0 ? "" : ` Of ${open} not every value is known.`}`;
  if (off === 0 && open === 0)
    return `Behind the boards ${rows.length === 1 ? "one is" : `all ${rows.length} are`} as the standard.${tail}`;
  if (off === 0) return `Behind the boards no known value is off the standard.${tail}`;
  return `Behind the boards ${off} of ${rows.length} ${off === 1 ? "is" : "are"} otherwise.${tail}`;
}

const SHOWN_UNREAD = 12;

/** What is behind the boards of a type, held against what its standard was read out with. */
export function BehindDrift({ behind, standardRef }: { readonly behind: Behind; readonly standardRef: string }) {
  if (behindSentence(behind) === "" || behind.held === 0) return null;
  const lines = driftLines(behind.drift);
  return (
    <Sheet label="Behind the boards" className="mt-5 overflow-x-auto px-4 py-3">
      <h2 className="mb-1">Behind the boards</h2>
      {lines.length > 0 && (
        <Table
          label="Parts off the standard"
          className="mt-2"
          rows={lines}
          keyOf={({ id }) => id}
          columns={[
            {
              head: "What",
              names: true,
              cell: ({ flies, title, place }) => (
                <>
                  <StateShape shape={flies ? "triangle" : "half"} /> {title}
                  <span className="block key wrap-anywhere text-faded">{place}</span>
                </>
              ),
            },
            { head: "Standard", look: "key", cell: ({ standard }) => standard },
            {
              head: "What is there instead",
              cell: ({ held, others }) => (
                <>
                  {held.map(({ shown, tags, more }) => (
                    <span key={shown} className="block">
                      <span className="key">{shown}</span>{" "}
                      {tags.map((tag) => (
                        <Link
                          key={tag}
                          className="mr-1.5 inline-block min-h-6 text-sm"
                          href={`/compare?left=aircraft:${tag}&right=${standardRef}`}
                        >
                          {tag}
                        </Link>
                      ))}
                      {more > 0 && <span className="text-sm text-faded">and {more} more</span>}
                    </span>
                  ))}
                  {others > 0 && <span className="text-sm text-faded">and {others} other values</span>}
                </>
              ),
            },
          ]}
        />
      )}
      {behind.unread.length > 0 && (
        <p className="mt-2 text-sm text-faded">
          Nothing is said of:{" "}
          {behind.unread
            .slice(0, SHOWN_UNREAD)
            .map(({ tag, places }) => `${tag} (${places.join(", ")})`)
            .join("; ")}
          {behind.unread.length > SHOWN_UNREAD ? ` and ${behind.unread.length - SHOWN_UNREAD} more` : ""}.
        </p>
      )}
    </Sheet>
  );
}
