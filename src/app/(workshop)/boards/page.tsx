import type { Metadata } from "next";
import { Table } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import { oneParam, type SearchParams } from "@/app/params";
import { sectorsOf } from "@/core/catalog";
import { candidatesOf, flashBytes } from "@/core/identify";
import { Empty, LinkButton, Sheet } from "@/ui/base/parts";
import { UrlSearch } from "@/ui/base/url-search";
import { UrlSelect } from "@/ui/base/url-select";
import { loaderWhere, waysIntoLoader } from "@/ui/boards/sentences";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { modelPrior } from "@/server/repositories/evidence";
import { requirePage } from "@/server/web/session";
import { counted } from "@/ui/base/words";

export const metadata: Metadata = { title: "Boards" };

interface Props {
  readonly searchParams: SearchParams;
}

export default async function BoardsPage({ searchParams }: Props) {
  await requirePage();
  const params = await searchParams;
  const catalogue = await loadCatalogue();
  const owned = await modelPrior();
  const [query, processor, maker] = [oneParam(params.q), oneParam(params.processor), oneParam(params.maker)];
  const all = candidatesOf(catalogue);
  const wanted = query.trim().toLowerCase();
  const found = all
    .filter((each) => processor === "" || each.processor === processor)
    .filter((each) => maker === "" || each.model?.maker === maker)
    .filter(({ title, names, processor: on, gyros, model }) =>
      [title, ...names, on, ...gyros, model?.printed ?? "", model?.maker ?? "", model?.smallPrint ?? ""].some((word) =>
        word.toLowerCase().includes(wanted),
      ),
    );
  const targets = new Set(all.map(({ target }) => target)).size;
  const option = (value: string) => ({ value, text: value });
  return (
    <>
      <div className="mb-3 flex flex-wrap items-end justify-between gap-3">
        <h1>
          {counted(catalogue.models.size, "model takes", "models take")} {counted(targets, "target")}.
        </h1>
        <span className="flex flex-wrap gap-2">
          <LinkButton href="/boards/new">A board by its particulars</LinkButton>
          <LinkButton href="/boards/sheet">Read a maker’s pad sheet</LinkButton>
          <LinkButton href="/boards/which" look="main">
            Which target does a board take?
          </LinkButton>
        </span>
      </div>
      <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <UrlSearch label="Search boards" value={query} />
        <UrlSelect
          name="processor"
          label="Processor"
          value={processor}
          none="any"
          options={[...catalogue.processors.keys()].map(option)}
        />
        <UrlSelect
          name="maker"
          label="Maker"
          value={maker}
          none="any"
          options={[...new Set([...catalogue.models.values()].map((model) => model.maker))].sort().map(option)}
        />
      </div>
      <Sheet label="Boards" className="mb-5 overflow-x-auto">
        {found.length === 0 ? (
          <Empty>No board fits. Search by what is printed on it, its maker, its target or its processor.</Empty>
        ) : (
          <Table
            rows={found}
            keyOf={({ id }) => id}
            columns={[
              {
                head: "Model",
                cell: ({ id, title, model }) => (model ? <Link href={`/boards/${id}`}>{title}</Link> : title),
              },
              {
                head: "Printed on it",
                cell: ({ model }) =>
                  model
                    ? [`${model.printed}, revision ${model.revision}`, model.smallPrint].filter(Boolean).join(", ")
                    : "not described",
              },
              {
                head: "Target",
                cell: ({ target, names }) => (
                  <>
                    <Link href={`/boards/targets?here=${encodeURIComponent(target)}`} className="key">
                      {target}
                    </Link>
                    {names.length > 1 && (
                      <span className="key text-faded"> {names.filter((name) => name !== target).join(", ")}</span>
                    )}
                  </>
                ),
              },
              { head: "Processor", look: "whitespace-nowrap", cell: ({ processor: on }) => on },
              { head: "Gyro", look: "whitespace-nowrap", cell: ({ gyros }) => gyros.join(", ") || "not known" },
              { head: "Into its loader", cell: ({ model }) => (model ? waysIntoLoader(model) : "") },
              { head: "Here", cell: ({ id }) => (owned.get(id) ?? 1) - 1 || "none" },
            ]}
          />
        )}
      </Sheet>
      <Sheet label="Processors" className="overflow-x-auto">
        <h2 className="px-4 pt-3 pb-1">Processors</h2>
        <Table
          rows={[...catalogue.processors.values()]}
          keyOf={({ id }) => id}
          columns={[
            { head: "Processor", look: "whitespace-nowrap", cell: ({ title }) => title },
            { head: "Flash", look: "whitespace-nowrap", cell: (each) => `${flashBytes(each) / 1024} KB` },
            {
              head: "Sectors",
              cell: (each) =>
                `${sectorsOf(each).length}: ${each.sectors.map(({ count, sizeBytes }) => `${count} × ${sizeBytes / 1024} KB`).join(", ")}`,
            },
            {
              head: "Loaders",
              cell: ({ loaders, loaderSectors }) =>
                loaders.map(({ kind }) => loaderWhere(kind, loaderSectors.length > 0)).join("; ") || "none",
            },
            {
              head: "Its loader shows of the chip id",
              cell: ({ loaderIdWords }) => `words ${loaderIdWords.map((word) => word + 1).join(", ")}`,
            },
          ]}
        />
      </Sheet>
      <p className="mt-3 text-sm text-faded">
        Boards and processors are documents: import, learn and download them under{" "}
        <Link href="/firmware">Firmware</Link>.
      </p>
    </>
  );
}
