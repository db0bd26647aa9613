import type { ReactNode } from "react";
import { HOWS, type How, type Impact, type ReleaseChange } from "@/core/compare";
import { StateShape } from "@/ui/base/mark";

type Shape = Parameters<typeof StateShape>[0]["shape"];

export const HOW_TITLE: Readonly<Record<How, string>> = {
  silent: "Silent: nobody set these, and their defaults moved",
  behaviour: "Same number, other meaning",
  blocked: "Cannot be there",
  restricts: "New, and can limit flight",
  limit: "Less is allowed",
  lost: "No counterpart",
  converted: "Converted",
  renamed: "Renamed",
  retired: "Retired",
  new: "New, at their defaults",
};

export const HOW_SHORT: Readonly<Record<How, string>> = {
  silent: "Silent",
  behaviour: "Other meaning",
  blocked: "Cannot be there",
  restricts: "Can limit flight",
  limit: "Less allowed",
  lost: "No counterpart",
  converted: "Converted",
  renamed: "Renamed",
  retired: "Retired",
  new: "New",
};

const HOW_SHAPE: Readonly<Record<How, Shape>> = {
  silent: "triangle",
  behaviour: "triangle",
  blocked: "square",
  restricts: "triangle",
  limit: "triangle",
  lost: "ring",
  converted: "half",
  renamed: "half",
  retired: "dash",
  new: "half",
};

/** Groups that are long and quiet begin folded. */
const FOLDED = new Set<How>(["converted", "renamed", "retired", "new"]);

function Group<Item extends { readonly id: string; readonly how: How }>({
  how,
  items,
  head,
  row,
}: {
  readonly how: How;
  readonly items: readonly Item[];
  readonly head: readonly string[];
  readonly row: (item: Item) => ReactNode;
}) {
  const title = (
    <>
      <StateShape shape={HOW_SHAPE[how]} /> {HOW_TITLE[how]}{" "}
      <span className="font-body font-normal text-faded">{items.length}</span>
    </>
  );
  const table = (
    <div className="relative overflow-x-auto border border-rule bg-sheet">
      <table aria-label={HOW_TITLE[how]}>
        <thead>
          <tr>
            {head.map((name, i) => (
              <th key={name} className={i === 0 ? "w-[30%]" : i < head.length - 1 ? "w-[18%] min-w-24" : ""}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {items.map((item) => (
            <tr key={item.id}>{row(item)}</tr>
          ))}
        </tbody>
      </table>
    </div>
  );
  return (
    <section id={how} aria-label={HOW_TITLE[how]}>
      {FOLDED.has(how) && items.length > 6 ? (
        <details>
          <summary className="mb-1.5 min-h-6 font-head text-[17px] font-[640]">{title}</summary>
          {table}
        </details>
      ) : (
        <>
          <h2 className="mb-1.5">{title}</h2>
          {table}
        </>
      )}
    </section>
  );
}

function SettingCell({ item }: { readonly item: Pick<ReleaseChange, "title" | "place" | "flies" | "area"> }) {
  return (
    <td>
      {item.title}
      {item.flies && <span className="ml-1.5 text-[13px] text-straw">flies</span>}
      <span className="block key wrap-anywhere text-faded">
        {item.place} · {item.area}
      </span>
    </td>
  );
}

const Why = ({ item }: { readonly item: Pick<ReleaseChange, "why" | "says"> }) => (
  <td className="text-sm">{item.why.length > 0 ? item.why.map((why) => <p key={why}>{why}</p>) : item.says}</td>
);

/** Changes by how they touch a setting, the silent ones first. */
export function ChangesTable({ changes }: { readonly changes: readonly ReleaseChange[] }) {
  return (
    <div className="grid grid-cols-1 gap-5">
      {HOWS.map((how) => {
        const items = changes.filter((change) => change.how === how);
        if (items.length === 0) return null;
        return (
          <Group
            key={how}
            how={how}
            items={items}
            head={["Setting", "Before", "After", "Why"]}
            row={(item) => (
              <>
                <SettingCell item={item} />
                <td className="key">{item.before}</td>
                <td className="key">{item.after}</td>
                <Why item={item} />
              </>
            )}
          />
        );
      })}
    </div>
  );
}

const SHOWN = 8;

/** What a release would do to a fleet: settings down, and for each which aircraft and what becomes of their values. */
export function ImpactTable({ impacts }: { readonly impacts: readonly Impact[] }) {
  return (
    <div className="grid grid-cols-1 gap-5">
      {HOWS.map((how) => {
        const items = impacts
          .filter((impact) => impact.how === how)
          .map((impact) => ({ ...impact, id: `${how} ${impact.id}` }));
        if (items.length === 0) return null;
        return (
          <Group
            key={how}
            how={how}
            items={items}
            head={["Setting", "Aircraft", "Why"]}
            row={(item) => (
              <>
                <SettingCell item={item} />
                <td>
                  <ul>
                    {byValue(item).map(([text, tags]) => (
                      <li key={text}>
                        <span className="key">{text}</span>{" "}
                        <span className="text-sm text-faded">
                          {tags.slice(0, SHOWN).join(", ")}
                          {tags.length > SHOWN ? ` and ${tags.length - SHOWN} more` : ""}
                        </span>
                      </li>
                    ))}
                  </ul>
                </td>
                <Why item={item} />
              </>
            )}
          />
        );
      })}
    </div>
  );
}

function byValue({ aircraft }: Impact): [string, string[]][] {
  const groups = new Map<string, string[]>();
  for (const { tag, before, after } of aircraft) {
    const text =
      before === undefined ? (after ?? "") : after === undefined || after === before ? before : `${before} → ${after}`;
    groups.set(text, [...(groups.get(text) ?? []), tag]);
  }
  return [...groups];
}
