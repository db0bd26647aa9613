import { Link } from "@/ui/base/link";
import { number, string, type Schema } from "yup";
import { oneParam, type SearchParams } from "@/app/params";
import { releaseTitle, type Catalogue } from "@/core/catalog";
import { AddAircraft } from "@/ui/fleet/add-aircraft";
import { attentionOf, fleetSentence, oddAttention } from "@/ui/fleet/attention";
import { Register, type RegisterState } from "@/ui/fleet/register";
import { Mark } from "@/ui/base/mark";
import { LinkButton, Sheet } from "@/ui/base/parts";
import { loadCatalogue } from "@/server/repositories/catalogue";
import {
  mostUrgent,
  readRegister,
  REGISTER_ORDERS,
  REGISTER_PAGE,
  STANDINGS,
  summariseRegister,
  type RegisterPage,
  type StandingKind,
} from "@/server/repositories/fleet";
import { mayActAs } from "@/server/roles";
import { partsOfFleet } from "@/server/repositories/fleet-parts";
import { keepingTrouble } from "@/server/keeping";
import { requirePage } from "@/server/web/session";
import { registerEntry } from "@/server/web/views";

/** How many aircraft that need somebody are named above the register. */
const NAMED = 3;

interface Props {
  readonly searchParams: SearchParams;
}

const STANDING = string<StandingKind>().oneOf(STANDINGS);
const ORDER = string().oneOf(REGISTER_ORDERS).required();
const PAGE = number().integer().min(1).max(100_000).required();

/** What the URL asks for; what it says wrongly counts as not said. */
function viewOf(params: Awaited<SearchParams>) {
  const said = <T,>(schema: Schema<T>, text: string): T | undefined =>
    text !== "" && schema.isValidSync(text) ? schema.cast(text) : undefined;
  const [order = "", direction] = oneParam(params.sort).split(".");
  return {
    standing: said(STANDING, oneParam(params.state)),
    order: said(ORDER, order) ?? "tag",
    page: said(PAGE, oneParam(params.page)) ?? 1,
    down: direction === "down",
  };
}

/** Models and releases whose titles fit a text. */
function titled(catalogue: Catalogue, text: string) {
  const fits = (title: string) => text !== "" && title.toLowerCase().includes(text.toLowerCase());
  return {
    modelIds: [...catalogue.models.values()].filter((model) => fits(model.title)).map((model) => model.id),
    releaseIds: [...catalogue.releases.values()].filter((r) => fits(releaseTitle(r))).map((r) => r.id),
  };
}

async function pageOf(params: Awaited<SearchParams>, catalogue: Catalogue): Promise<[RegisterPage, RegisterState]> {
  const view = viewOf(params);
  const [q, type, firmware] = [oneParam(params.q), oneParam(params.type), oneParam(params.firmware)];
  const asked = { text: q, type, releaseId: firmware, ...view, ...titled(catalogue, q.trim()) };
  let found = await readRegister(asked);
  const last = Math.max(1, Math.ceil(found.found / REGISTER_PAGE));
  // a link to a page that is no longer there leads to the last that is
  const page = Math.min(view.page, last);
  if (page !== view.page) found = await readRegister({ ...asked, page });
  return [found, { q, type, firmware, state: view.standing ?? "", sort: view.order, down: view.down, page }];
}

export default async function FleetPage({ searchParams }: Props) {
  const account = await requirePage();
  const [params, catalogue] = [await searchParams, await loadCatalogue()];
  const [[page, state], summary, urgent] = await Promise.all([
    pageOf(params, catalogue),
    summariseRegister(),
    mostUrgent(NAMED),
  ]);
  const now = new Date().getTime();
  const trouble = mayActAs(account.role, "lead") ? await keepingTrouble(now) : undefined;
  const parts = await partsOfFleet();
  const named = (old: boolean) =>
    urgent
      .filter(({ standing }) => (standing === "old-backup") === old)
      .flatMap((row) => attentionOf(registerEntry(row, catalogue), now) ?? []);
  // an old backup can wait for a part that is not as its like
  const attention = [...named(false), ...oddAttention(parts), ...named(true)].slice(0, NAMED);
  return (
    <>
      <div className="mb-4 flex flex-wrap items-end justify-between gap-3">
        <h1>{fleetSentence(summary.total, summary.standings)}</h1>
        {mayActAs(account.role, "technician") && (
          <div className="flex flex-wrap gap-2">
            <AddAircraft types={summary.types} />
            {parts.length > 0 && <LinkButton href="/parts">Parts</LinkButton>}
            <LinkButton href="/backups/file">File read-outs</LinkButton>
            <LinkButton href="/bench/1" look="main">
              Order a job
            </LinkButton>
          </div>
        )}
      </div>
      {trouble !== undefined && (
        <p role="alert" className="mb-4 border border-clay bg-clay-wash px-3.5 py-2.5 text-sm">
          {trouble} <Link href="/keeping">See copies and the record</Link>
        </p>
      )}
      {attention.length > 0 && (
        <Sheet label="Needs attention" className="mb-5 grid grid-cols-3 max-md:grid-cols-1">
          {attention.map((item, i) => (
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
      <Register
        entries={page.rows.map((row) => registerEntry(row, catalogue))}
        now={now}
        state={state}
        found={page.found}
        total={summary.total}
        pageSize={REGISTER_PAGE}
        types={summary.types}
        releases={summary.releaseIds.map((id) => {
          const release = catalogue.releases.get(id);
          return { value: id, text: release ? releaseTitle(release) : id };
        })}
      />
    </>
  );
}
