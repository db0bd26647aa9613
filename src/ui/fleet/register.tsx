import { Link } from "@/ui/base/link";
import { Mark } from "@/ui/base/mark";
import { Pager } from "@/ui/base/pager";
import { Empty, Plate } from "@/ui/base/parts";
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

const HEADINGS = [
  ["tag", "Tag"],
  ["type", "Type and work"],
  ["board", "Board and target"],
  ["firmware", "Firmware"],
  ["backup", "Complete backup"],
  ["state", "State"],
] as const;

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
        <table aria-label="Fleet register">
          <thead>
            <tr>
              {HEADINGS.map(([id, title]) => {
                const order = state.sort !== id ? "none" : state.down ? "descending" : "ascending";
                return (
                  <th key={id} aria-sort={order} className={id === "tag" ? "w-28" : undefined}>
                    <Link
                      href={linkTo(state, { sort: id, down: order === "ascending" })}
                      scroll={false}
                      className="inline-flex min-h-6 items-center gap-1 font-semibold text-inherit no-underline hover:text-ink"
                    >
                      {title}
                      <span aria-hidden="true">{order === "ascending" ? "↑" : order === "descending" ? "↓" : ""}</span>
                    </Link>
                  </th>
                );
              })}
            </tr>
          </thead>
          <tbody>
            {entries.map((entry) => (
              <RegisterRow key={entry.tag} entry={entry} now={now} />
            ))}
          </tbody>
        </table>
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

function RegisterRow({ entry, now }: { readonly entry: RegisterEntry; readonly now: number }) {
  const { mark, say } = standingOf(entry);
  return (
    <tr>
      <td>
        <Link href={`/aircraft/${entry.tag}`} className="no-underline">
          <Plate tag={entry.tag} />
        </Link>
      </td>
      <td>
        {entry.type}
        <span className="block text-faded">{entry.label}</span>
      </td>
      <td>
        {entry.model}
        <span className="block key text-faded">{entry.target}</span>
      </td>
      <td>{entry.firmware}</td>
      <td>
        {entry.completeAt === null
          ? entry.lastVerdict === "moved-only"
            ? "moved values only"
            : "none"
          : age(entry.completeAt, now)}
      </td>
      <td>
        <span className="flex items-baseline gap-2">
          <span className="translate-y-0.5">
            <Mark mark={mark} />
          </span>
          {entry.job ? <Link href={`/jobs/${entry.job.id}`}>{say}</Link> : say}
        </span>
      </td>
    </tr>
  );
}
