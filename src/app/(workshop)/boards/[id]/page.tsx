import type { Metadata } from "next";
import { Link } from "@/ui/base/link";
import { notFound } from "next/navigation";
import { processorOf, releaseTitle } from "@/core/catalog";
import { flashBytes, targetLine, usbId } from "@/core/identify";
import { Facts, LinkButton, Sheet } from "@/ui/base/parts";
import { BoardDrawing, type PadTag } from "@/ui/boards/board-drawing";
import { waysIntoLoader } from "@/ui/boards/sentences";
import { listDocuments, loadCatalogue } from "@/server/repositories/catalogue";
import { aircraftWith } from "@/server/repositories/boards";
import { requirePage } from "@/server/web/session";

interface Props {
  readonly params: Promise<{ id: string }>;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  return { title: (await loadCatalogue()).models.get(decodeURIComponent((await params).id))?.title ?? "Board" };
}

export default async function BoardPage({ params }: Props) {
  await requirePage();
  const id = decodeURIComponent((await params).id);
  const catalogue = await loadCatalogue();
  const model = catalogue.models.get(id);
  if (!model) notFound();
  const line = targetLine(catalogue, model.target);
  const newest = line?.builds.at(-1);
  const processor = processorOf(catalogue, model.processor);
  const tags = new Map<string, PadTag>(Object.entries(newest?.target.pads ?? {}).map(([pad, text]) => [pad, { text }]));
  const document = (await listDocuments()).find((each) => each.kind === "board-model" && each.document_id === id);
  const flown = await aircraftWith(id);
  const others = [...catalogue.models.values()].filter((each) => each.id !== id && line?.names.includes(each.target));
  return (
    <>
      <nav aria-label="Where this is" className="text-sm">
        <Link href="/boards">Boards</Link>
      </nav>
      <div className="mb-3 flex flex-wrap items-end justify-between gap-3">
        <h1>
          {model.title} takes <span className="key">{line?.name ?? model.target}</span>.
        </h1>
        <div className="flex flex-wrap gap-2">
          <LinkButton href={`/boards/targets?here=${encodeURIComponent(line?.name ?? model.target)}`}>
            What is near its target
          </LinkButton>
          {document && <LinkButton href={`/firmware/documents/${document.id}`}>Its document</LinkButton>}
        </div>
      </div>
      <div className="grid grid-cols-[1fr_330px] items-start gap-5 max-lg:grid-cols-1">
        <Sheet label="Pads" className="px-4 py-3.5">
          <h2 className="mb-1">Its pads</h2>
          <p className="mb-2 text-sm text-faded">
            {newest
              ? `As ${releaseTitle(newest.release)} has them. The arrow shows which way the board lies.`
              : "No release is built for its target: what its pads do is not known."}
          </p>
          <BoardDrawing model={model} tags={tags} />
        </Sheet>
        <div className="grid gap-4">
          <Sheet label="What is known" className="px-4 py-3.5">
            <h2 className="mb-2">What is known of it</h2>
            <Facts
              facts={[
                ["Maker", model.maker],
                ["Printed", `${model.printed}, revision ${model.revision}`],
                ["At its edge", model.smallPrint ?? "nothing that tells it apart"],
                ["Processor", `${processor.title}, ${flashBytes(processor) / 1024} KB`],
                ["Gyro", newest?.target.gyro ?? "not known"],
                ["Ports", newest ? newest.target.ports.join(", ") || "none" : "not known"],
                ["Into its loader", waysIntoLoader(model)],
                [
                  "USB",
                  <span key="u" className="key">
                    {usbId(model.usb)}
                  </span>,
                ],
                ["Receiver", model.receiverOnUsb ? "powered by USB alone" : "needs the battery"],
                ["Shares its target", others.map(({ title }) => title).join(", ") || "with no other model"],
                ["Size", model.size ? `${model.size.widthMm} × ${model.size.heightMm} mm` : "not given"],
              ]}
            />
          </Sheet>
          <Sheet label="Releases" className="px-4 py-3.5">
            <h2 className="mb-2">Built for it</h2>
            {line ? (
              <ul className="grid gap-0.5 text-sm">
                {line.builds.toReversed().map(({ release, target }) => (
                  <li key={release.id}>
                    <Link href={`/firmware#${release.id}`}>{releaseTitle(release)}</Link> as{" "}
                    <span className="key">{target.id}</span>
                    {target.aliases.length > 0 && (
                      <span className="key text-faded"> ({target.aliases.join(", ")})</span>
                    )}
                  </li>
                ))}
              </ul>
            ) : (
              <p className="text-sm">No release of the workshop.</p>
            )}
          </Sheet>
          <Sheet label="Flown" className="px-4 py-3.5">
            <h2 className="mb-2">Flies on</h2>
            <p className="text-sm">
              {flown.length === 0
                ? "No aircraft of the register."
                : flown.map((tag, i) => (
                    <span key={tag}>
                      {i > 0 && ", "}
                      <Link href={`/aircraft/${tag}`}>{tag}</Link>
                    </span>
                  ))}
            </p>
          </Sheet>
        </div>
      </div>
    </>
  );
}
