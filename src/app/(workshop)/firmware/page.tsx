import type { Metadata } from "next";
import { Table } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import { firmwareById, lineageOf, partOf, releaseTitle, wantedBy, type Catalogue } from "@/core/catalog";
import { LineageGraph } from "@/ui/firmware/lineage";
import { ImageStore, type StoredImage } from "@/ui/firmware/image-store";
import { ImportForms } from "@/ui/firmware/import-forms";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { dayTime } from "@/ui/base/time";
import { asideDocuments, everyImage, listDocuments, listImages, loadCatalogue } from "@/server/repositories/catalogue";
import { whatFits } from "@/server/repositories/image-fits";
import { withdrawnDocuments } from "@/server/repositories/withdrawals";
import { mayActAs } from "@/server/roles";
import { AskButton } from "@/ui/base/ask";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "Firmware" };

export default async function FirmwarePage() {
  const account = await requirePage();
  const [catalogue, documents, images] = [await loadCatalogue(), await listDocuments(), await listImages()];
  const aside = await asideDocuments();
  const withdrawn = await withdrawnDocuments();
  const isLead = mayActAs(account.role, "lead");
  const fits = await whatFits(catalogue);
  const fitOf = (image: { readonly release_id: string; readonly target: string }) => {
    const release = firmwareById(catalogue, image.release_id);
    return release && { part: partOf(release), here: fits(release, image.target) };
  };
  const stored = (await everyImage()).map((image): StoredImage => ({
    id: image.id,
    title: titleOf(catalogue, image.release_id),
    target: image.target,
    fits: fitOf(image),
    version: image.version,
    sha256: image.sha256,
    lengthBytes: image.length_bytes,
    by: image.imported_by,
    at: image.imported_at.getTime(),
  }));
  const lineage = lineageOf(catalogue);
  const known = lineage.nodes.length;
  const families = [...new Set(lineage.nodes.map(({ release }) => release.family))].toSorted();
  const releases = lineage.nodes.flatMap(({ release }) => catalogue.releases.get(release.id) ?? []);
  return (
    <>
      <h1>
        {known} {known === 1 ? "release" : "releases"}, {images.length} images, {documents.length} documents.
      </h1>
      <nav aria-label="Firmware" className="mt-1 mb-1 flex flex-wrap gap-x-5">
        <Link href="/firmware/changes" className="min-h-6">
          What a release changes
        </Link>
        <Link href="/firmware/impact" className="min-h-6">
          What it would do to the fleet
        </Link>
        <Link href="/firmware/new" className="min-h-6">
          A new family
        </Link>
        <Link href="/firmware/workshop" className="min-h-6">
          Idiom workshop
        </Link>
        <Link href="/firmware/learn" className="min-h-6">
          Learn a release
        </Link>
      </nav>
      <p className="mb-4 text-faded">
        Nothing about any firmware is built in: all that Fresh Start knows stands in these documents.
      </p>
      {aside.length > 0 && (
        <Sheet label="Set aside" className="mb-5 grid gap-3 px-4 py-3.5">
          <h2>Set aside: these versions cannot be used</h2>
          <p className="text-sm text-faded">
            The version before each is used in its place, and everything else as ever. Import a mended one as the next.
          </p>
          {aside.map(({ id, kind, documentId, version, problem }) => (
            <div key={id} className="grid gap-1 text-sm">
              <Link href={`/firmware/documents/${id}`}>
                {kind} {documentId}, version {version}
              </Link>
              <ProblemNote problem={problem} />
            </div>
          ))}
        </Sheet>
      )}
      <Sheet label="Lineage" className="mb-5 overflow-x-auto px-4 py-3.5">
        <h2 className="mb-1">Lineage</h2>
        <p className="mb-2 text-sm text-faded">
          A release leads to what it changes. Dashed lines are ways between families; what another part than the main
          processor runs says so below.
        </p>
        <LineageGraph lineage={lineage} />
      </Sheet>
      <div className="grid grid-cols-[1fr_380px] items-start gap-5 max-lg:grid-cols-1">
        <div className="grid min-w-0 gap-5">
          <Sheet label="Releases" className="overflow-x-auto">
            <h2 className="px-4 pt-3 pb-1">Releases</h2>
            <Table
              rows={releases}
              keyOf={({ id }) => id}
              rowId={({ id }) => id}
              rowLook={() => "target:bg-straw-wash"}
              columns={[
                { head: "Release", look: "whitespace-nowrap", cell: releaseTitle },
                { head: "Standing", cell: ({ standing }) => standing },
                { head: "Built on", look: "whitespace-nowrap", cell: ({ builtOn }) => builtOn },
                {
                  head: "Settings",
                  look: "whitespace-nowrap",
                  cell: ({ settings }) =>
                    `${settings.length} in ${new Set(settings.map(({ area }) => area)).size} areas`,
                },
                {
                  head: "Rules",
                  cell: ({ id, passages: [first] }) =>
                    first ? (
                      <Link href={`/firmware/changes?from=${first.from}&to=${id}`}>{first.rules.length}</Link>
                    ) : (
                      "none"
                    ),
                },
                {
                  head: "Images for",
                  look: "key",
                  cell: ({ id }) =>
                    images
                      .filter((image) => image.release_id === id)
                      .map((image) => `${image.target} ${Math.round(image.length_bytes / 1024)} KB`)
                      .join(", ") || "none yet",
                },
              ]}
            />
          </Sheet>
          <ImageStore images={stored} />
          {catalogue.parts.size > 0 && <PartReleases catalogue={catalogue} />}
          <Sheet label="Documents" className="overflow-x-auto">
            <div className="flex flex-wrap items-baseline justify-between gap-x-4 px-4 pt-3 pb-1">
              <h2>Documents</h2>
              <p className="text-sm">
                As a pack:{" "}
                {families.map((family) => (
                  <a
                    key={family}
                    className="mr-2 inline-flex min-h-6 items-center"
                    href={`/api/packs?family=${encodeURIComponent(family)}`}
                    download
                  >
                    {family}
                  </a>
                ))}
              </p>
            </div>
            <Table
              rows={documents}
              keyOf={({ id }) => id}
              columns={[
                {
                  head: "Document",
                  cell: (document) => (
                    <Link href={`/firmware/documents/${document.id}`} className="inline-flex min-h-6 items-center">
                      {document.document_id}
                    </Link>
                  ),
                },
                { head: "Kind", cell: ({ kind }) => kind },
                { head: "Version", cell: ({ version }) => version },
                {
                  head: "Imported",
                  cell: (document) => `${dayTime(document.imported_at.getTime())} by ${document.imported_by}`,
                },
                {
                  head: "As a file",
                  cell: ({ id }) => (
                    <a href={`/api/documents/${id}`} download>
                      Download
                    </a>
                  ),
                },
              ]}
            />
          </Sheet>
          {withdrawn.length > 0 && (
            <Sheet label="Withdrawn" className="px-4 py-3.5">
              <h2 id="withdrawn">Withdrawn: kept, and no longer used</h2>
              <ul className="mt-1 grid gap-1 text-sm">
                {withdrawn.map((each) => (
                  <li key={`${each.kind} ${each.document_id}`} className="flex flex-wrap items-center gap-x-3">
                    <span>
                      {each.kind} <span className="key">{each.document_id}</span>, by {each.account} on{" "}
                      {dayTime(each.at.getTime())}: {each.reason}
                    </span>
                    {isLead && (
                      <AskButton
                        path="/api/documents/standing"
                        body={{ kind: each.kind, id: each.document_id, does: "use" }}
                      >
                        Use it again
                      </AskButton>
                    )}
                  </li>
                ))}
              </ul>
            </Sheet>
          )}
        </div>
        <ImportForms mayImport={isLead} />
      </div>
    </>
  );
}

const titleOf = (catalogue: Catalogue, id: string): string => {
  const release = firmwareById(catalogue, id);
  return release ? releaseTitle(release) : id;
};

/** What runs on other parts than the main processor, and which main releases want it. */
const PartReleases = ({ catalogue }: { readonly catalogue: Catalogue }) => (
  <Sheet label="Releases of other parts" className="overflow-x-auto">
    <h2 className="px-4 pt-3 pb-1">Releases of other parts</h2>
    <Table
      rows={[...catalogue.parts.values()]}
      keyOf={({ id }) => id}
      rowId={({ id }) => id}
      rowLook={() => "target:bg-straw-wash"}
      columns={[
        { head: "Release", look: "whitespace-nowrap", cell: releaseTitle },
        { head: "Part", cell: ({ part }) => part },
        { head: "Built on", look: "whitespace-nowrap", cell: ({ builtOn }) => builtOn },
        { head: "Settings", cell: ({ settings }) => settings.length },
        {
          head: "Rules",
          cell: ({ id, ancestor, passages }) =>
            ancestor === undefined ? (
              "none"
            ) : (
              <Link href={`/firmware/changes?from=${ancestor}&to=${id}`}>{passages[0]?.rules.length}</Link>
            ),
        },
        {
          head: "Serves",
          cell: (release) => wantedBy(catalogue, release).map(releaseTitle).join(", ") || "none asks for it",
        },
      ]}
    />
  </Sheet>
);
