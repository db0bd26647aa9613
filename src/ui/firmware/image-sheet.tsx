import { Table } from "@/ui/base/table";
import { Link } from "@/ui/base/link";
import type { MappedSector, SectorRole } from "@/core/image";
import { FORMATS } from "@/core/image/formats";
import { Facts, Sheet } from "@/ui/base/parts";
import { dayTime } from "@/ui/base/time";
import { UrlSelect } from "@/ui/base/url-select";

interface ImageSheetProps {
  readonly id: number;
  readonly title: string;
  readonly target: string;
  readonly aliases: readonly string[];
  readonly processor: string;
  readonly standing: string;
  readonly lengthBytes: number;
  readonly sha256: string;
  readonly by: string;
  readonly at: number;
  readonly models: readonly { readonly id: string; readonly title: string }[];
  readonly fleet: readonly { readonly tag: string; readonly runs: string | null }[];
  readonly sectors: readonly MappedSector[];
  /** Other images for the target. */
  readonly others: readonly { readonly id: number; readonly title: string }[];
  /** The one that it is held against. */
  readonly over?: { readonly id: number; readonly title: string };
}

const kilobytes = (bytes: number) => `${Number((bytes / 1024).toFixed(1))} KB`;
const address = (value: number) => `0x${value.toString(16).padStart(8, "0")}`;

const ROLES: Readonly<Record<SectorRole, string>> = {
  loader: "the loader",
  settings: "settings; written by the firmware itself",
  application: "this image",
  free: "nothing of this image",
};

/** What would be done with a sector, in a word. */
function fate({ role, usedBytes, equal }: MappedSector): string {
  if (usedBytes === 0) return ROLES[role];
  if (equal === undefined) return ROLES.application;
  return equal ? "this image, equal already" : "this image, erased and written";
}

/** Runs of sectors that are alike, so that a flash of many small ones is read as one of few. */
interface Run {
  readonly first: MappedSector;
  readonly last: MappedSector;
  readonly says: string;
  readonly sizeBytes: number;
  readonly usedBytes: number;
}

function runsOf(sectors: readonly MappedSector[]): Run[] {
  const runs: Run[] = [];
  for (const sector of sectors) {
    const says = fate(sector);
    const before = runs.at(-1);
    if (before?.says === says && before.last.sizeBytes === sector.sizeBytes)
      runs[runs.length - 1] = {
        ...before,
        last: sector,
        sizeBytes: before.sizeBytes + sector.sizeBytes,
        usedBytes: before.usedBytes + sector.usedBytes,
      };
    else runs.push({ first: sector, last: sector, says, sizeBytes: sector.sizeBytes, usedBytes: sector.usedBytes });
  }
  return runs;
}

const LOOKS: Readonly<Record<SectorRole, string>> = {
  loader: "bg-ink",
  settings:
    "bg-sheet [background-image:radial-gradient(var(--color-ink)_1px,transparent_1.5px)] [background-size:6px_6px]",
  application: "bg-water",
  free: "bg-sheet",
};

/** A bar as long as the flash, each run as wide as it is large. The table under it says the same in words. */
const FlashBar = ({ runs, total }: { readonly runs: readonly Run[]; readonly total: number }) => (
  <div className="mb-3 flex h-12 border border-ink" aria-hidden="true">
    {runs.map((run) => (
      <span
        key={run.first.no}
        className={`relative block border-r border-sheet last:border-0 ${run.first.equal ? "border border-water bg-water-wash" : LOOKS[run.usedBytes > 0 ? "application" : run.first.role]}`}
        style={{ width: `${(run.sizeBytes / total) * 100}%`, minWidth: 3 }}
      />
    ))}
  </div>
);

export function ImageSheet(props: ImageSheetProps) {
  const { id, title, target, sectors, over, others, models, fleet } = props;
  const runs = runsOf(sectors);
  const total = sectors.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);
  const held = sectors.filter(({ equal }) => equal !== undefined);
  const equal = held.filter((sector) => sector.equal).length;
  return (
    <>
      <Link href="/firmware" className="inline-flex min-h-6 items-center text-sm">
        Firmware
      </Link>
      <h1>
        {title} for {target}
      </h1>
      <p className="mb-4 text-faded">
        {kilobytes(props.lengthBytes)} for {props.processor}
        {over &&
          `. Over ${over.title}: ${held.length - equal} of ${held.length} sectors would be erased and written, ${equal} hold the same already`}
      </p>
      <div className="grid grid-cols-[1fr_330px] items-start gap-5 max-lg:grid-cols-1">
        <Sheet label="Map of flash" className="overflow-x-auto px-4 py-3.5">
          <h2 className="mb-2">Where it lies</h2>
          <div className="mb-3">
            <UrlSelect
              name="over"
              label="Compare with a release"
              value={over === undefined ? "" : String(over.id)}
              none="nothing"
              options={others.map(({ id, title }) => ({ value: String(id), text: title }))}
            />
          </div>
          <FlashBar runs={runs} total={total} />
          <Table
            rows={runs}
            keyOf={({ first }) => first.no}
            columns={[
              {
                head: "Sectors",
                look: "whitespace-nowrap",
                cell: ({ first, last }) => (first.no === last.no ? first.no : `${first.no} to ${last.no}`),
              },
              { head: "From", look: "key", cell: ({ first }) => address(first.start) },
              { head: "Size", look: "whitespace-nowrap", cell: ({ sizeBytes }) => kilobytes(sizeBytes) },
              {
                head: "Used",
                look: "whitespace-nowrap",
                cell: ({ usedBytes }) => (usedBytes === 0 ? "—" : kilobytes(usedBytes)),
              },
              {
                head: "What lies there",
                cell: ({ first, usedBytes, says }) => (
                  <>
                    <span
                      aria-hidden="true"
                      className={`mr-2 inline-block size-3 border border-ink ${first.equal ? "bg-water-wash" : LOOKS[usedBytes > 0 ? "application" : first.role]}`}
                    />
                    {says}
                  </>
                ),
              },
            ]}
          />
        </Sheet>
        <div className="grid min-w-0 gap-4">
          <Sheet label="The image" className="px-4 py-3.5">
            <h2 className="mb-2">The image</h2>
            <Facts
              facts={[
                ["Standing", props.standing],
                ["Imported", `${dayTime(props.at)} by ${props.by}`],
                ...(props.aliases.length === 0 ? [] : [["Also called", props.aliases.join(", ")] as const]),
                [
                  "SHA-256",
                  <span key="sha" className="break-all">
                    {props.sha256}
                  </span>,
                ],
              ]}
            />
            <p className="mt-2 flex flex-wrap gap-x-2.5 text-sm">
              {FORMATS.map(({ id: format, title: name, extension }) => (
                <a
                  key={format}
                  href={`/api/images/${id}?format=${format}`}
                  download
                  className="inline-flex min-h-6 items-center"
                  aria-label={`As ${name}`}
                >
                  {extension}
                </a>
              ))}
            </p>
          </Sheet>
          <Sheet label="What it fits" className="px-4 py-3.5">
            <h2 className="mb-2">What it fits</h2>
            {models.length === 0 ? (
              <p className="text-sm text-faded">No board model in the catalogue takes {target}.</p>
            ) : (
              <ul className="grid text-sm">
                {models.map((model) => (
                  <li key={model.id}>
                    <Link href={`/boards/${model.id}`} className="inline-flex min-h-6 items-center">
                      {model.title}
                    </Link>
                  </li>
                ))}
              </ul>
            )}
            <h3 className="mt-3 mb-1 text-sm font-semibold">Of the fleet</h3>
            {fleet.length === 0 ? (
              <p className="text-sm text-faded">No aircraft has a board of this target.</p>
            ) : (
              <ul className="flex flex-wrap gap-x-3 text-sm">
                {fleet.map(({ tag, runs: now }) => (
                  <li key={tag}>
                    <Link href={`/aircraft/${tag}`} className="inline-flex min-h-6 items-center">
                      {tag}
                    </Link>{" "}
                    <span className="text-faded">{now ?? "not known"}</span>
                  </li>
                ))}
              </ul>
            )}
          </Sheet>
        </div>
      </div>
    </>
  );
}
