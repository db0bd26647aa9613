import type { ReactNode } from "react";
import { Link } from "@/ui/base/link";
import { Mark } from "@/ui/base/mark";
import { Pager } from "@/ui/base/pager";
import { Empty, Plate } from "@/ui/base/parts";
import { Table } from "@/ui/base/table";
import { age } from "@/ui/base/time";
import { UrlSearch } from "@/ui/base/url-search";
import { UrlSelect } from "@/ui/base/url-select";
import { STANDING_WORDS, standingOf, type RegisterEntry } from "@/ui/fleet/attention";

/** What the URL says of the register, as it was read. */
export interface RegisterState {
  readonly q: string;
  readonly type: string;
  readonly firmware: string;
  readonly state: string;
  readonly sort: string;
  readonly down: boolean;
  readonly page: number;
}

interface RegisterProps {
  readonly entries: readonly RegisterEntry[];
  readonly now: number;
  readonly state: RegisterState;
  /** How many fit, how many there are, and how many stand on a page. */
  readonly found: number;
  readonly total: number;
  readonly pageSize: number;
  readonly types: readonly string[];
  readonly releases: readonly { readonly value: string; readonly text: string }[];
}

/** The columns of the register, under the names by which the server sorts. */
const COLUMNS: readonly {
  readonly id: string;
  readonly title: string;
  readonly look?: string;
  readonly cell: (entry: RegisterEntry, now: number) => ReactNode;
}[] = [
  {
    id: "tag",
    title: "Tag",
    look: "w-28",
    cell: ({ tag }) => (
      <Link href={`/aircraft/${tag}`} className="no-underline">
        <Plate tag={tag} />
      </Link>
    ),
  },
  {
    id: "type",
    title: "Type and work",
    cell: ({ type, label }) => (
      <>
        {type}
        <span className="block text-faded">{label}</span>
      </>
    ),
  },
  {
    id: "board",
    title: "Board and target",
    cell: ({ model, target }) => (
      <>
        {model}
        <span className="block key text-faded">{target}</span>
      </>
    ),
  },
  { id: "firmware", title: "Firmware", cell: ({ firmware }) => firmware },
  {
    id: "backup",
    title: "Complete backup",
    cell: ({ completeAt, lastVerdict }, now) =>
      completeAt !== null ? age(completeAt, now) : lastVerdict === "moved-only" ? "moved values only" : "none",
  },
  { id: "state", title: "State", cell: (entry) => <Stands entry={entry} /> },
];

/** How an aircraft stands, leading to its job where one is open. */
function Stands({ entry }: { readonly entry: RegisterEntry }) {
  const { mark, say } = standingOf(entry);
  return (
    <span className="flex items-baseline gap-2">
      <span className="translate-y-0.5">
        <Mark mark={mark} />
      </span>
      {entry.job ? <Link href={`/jobs/${entry.job.id}`}>{say}</Link> : say}
    </span>
  );
}

const ARROWS = { none: "", ascending: "↑", descending: "↓" } as const;

const SortLink = (to: { readonly title: string; readonly sort: keyof typeof ARROWS; readonly href: string }) => (
  <Link
    href={to.href}
    scroll={false}
    className="inline-flex min-h-6 items-center gap-1 font-semibold text-inherit no-underline hover:text-ink"
  >
    {to.title}
    <span aria-hidden="true">{ARROWS[to.sort]}</span>
  </Link>
);

function linkTo(state: RegisterState, change: Partial<RegisterState>): string {
  const next = { ...state, page: 1, ...change };
  const params = new URLSearchParams();
  for (const name of ["q", "type", "firmware", "state"] as const) if (next[name] !== "") params.set(name, next[name]);
  if (next.sort !== "tag" || next.down) params.set("sort", next.sort + (next.down ? ".down" : ""));
  if (next.page > 1) params.set("page", String(next.page));
  return `?${params.toString()}`;
}

/** The fleet as a table that the server sorts, narrows and pages: as quick with thousands of aircraft as with sixteen. */
export function Register({ entries, now, state, found, total, pageSize, types, releases }: RegisterProps) {
  const first = (state.page - 1) * pageSize + 1;
  const shown = found === 0 ? "none" : found <= pageSize ? String(found) : `${first} to ${first + entries.length - 1}`;
  return (
    <section aria-label="Register">
      <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-2 text-sm">
        <UrlSearch label="Search Fleet register" value={state.q} />
        <UrlSelect
          name="type"
          label="Type"
          value={state.type}
          none="any"
          options={types.map((type) => ({ value: type, text: type }))}
        />
        <UrlSelect name="firmware" label="Firmware" value={state.firmware} none="any" options={releases} />
        <UrlSelect
          name="state"
          label="State"
          value={state.state}
          none="any"
          options={Object.entries(STANDING_WORDS).map(([value, text]) => ({ value, text }))}
        />
        <span className="ml-auto text-faded" role="status">
          {shown} of {found <= pageSize ? total : found}
        </span>
      </div>
      <div className="relative overflow-x-auto border border-rule bg-sheet">
        <Table
          label="Fleet register"
          rows={entries}
          keyOf={({ tag }) => tag}
          columns={COLUMNS.map(({ id, title, look, cell }) => {
            const sort = state.sort !== id ? "none" : state.down ? "descending" : "ascending";
            return {
              head: (
                <SortLink title={title} sort={sort} href={linkTo(state, { sort: id, down: sort === "ascending" })} />
              ),
              ...(look === undefined ? {} : { headLook: look }),
              sort,
              cell: (entry: RegisterEntry) => cell(entry, now),
            };
          })}
        />
        {found === 0 && (
          <Empty>
            {total === 0 ? "No aircraft yet. Add the first one above." : "Nothing fits what you search for."}
          </Empty>
        )}
      </div>
      <div className="mt-3">
        <Pager
          label="Pages of the register"
          page={state.page}
          pages={Math.ceil(found / pageSize)}
          hrefOf={(page) => linkTo(state, { page })}
        />
      </div>
    </section>
  );
}
