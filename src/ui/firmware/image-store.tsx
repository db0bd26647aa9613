import { FORMATS } from "@/core/image/formats";
import { StateShape } from "@/ui/base/mark";
import { Table } from "@/ui/base/table";
import { Sheet } from "@/ui/base/parts";
import { dayTime } from "@/ui/base/time";

export interface StoredImage {
  readonly id: number;
  readonly title: string;
  readonly target: string;
  /** What it is for, and whether the workshop has such a thing; undefined: its release is not known. */
  readonly fits: { readonly part: string; readonly here: boolean } | undefined;
  readonly version: number;
  readonly sha256: string;
  readonly lengthBytes: number;
  readonly by: string;
  readonly at: number;
}

/** The formats in which an image can be had. */
const AsFiles = ({ id, title, target }: Pick<StoredImage, "id" | "title" | "target">) => (
  <span className="flex flex-wrap gap-x-2.5">
    {FORMATS.map((format) => (
      <a
        key={format.id}
        href={`/api/images/${id}?format=${format.id}`}
        download
        className="inline-flex min-h-6 items-center"
        aria-label={`${title} for ${target} as ${format.title}`}
      >
        {format.extension}
      </a>
    ))}
  </span>
);

/** Every image that came in, none ever overwritten; each can be had in any format. */
export const ImageStore = ({ images }: { readonly images: readonly StoredImage[] }) => (
  <Sheet label="Images" className="overflow-x-auto">
    <h2 className="px-4 pt-3 pb-1">Images</h2>
    <div className="max-h-96 overflow-y-auto" tabIndex={0} role="region" aria-label="List of images">
      <Table
        headStays
        rows={images}
        keyOf={({ id }) => id}
        columns={[
          {
            head: "Release",
            look: "whitespace-nowrap",
            cell: ({ id, title, version }) => (
              <>
                <a href={`/firmware/images/${id}`} className="inline-flex min-h-6 items-center">
                  {title}
                </a>
                {version > 1 && <span className="text-faded">, version {version}</span>}
              </>
            ),
          },
          { head: "Target", look: "key", cell: ({ target }) => target },
          {
            head: "For",
            cell: ({ fits }) =>
              fits && (
                <>
                  {fits.part}
                  {!fits.here && (
                    <span className="block text-sm text-faded">
                      <StateShape shape="dash" /> fits nothing here
                    </span>
                  )}
                </>
              ),
          },
          {
            head: "Size",
            look: "whitespace-nowrap",
            cell: ({ lengthBytes }) => `${Math.round(lengthBytes / 1024)} KB`,
          },
          { head: "SHA-256", look: "key", cell: ({ sha256 }) => sha256.slice(0, 12) },
          { head: "Imported", look: "whitespace-nowrap", cell: ({ at, by }) => `${dayTime(at)} by ${by}` },
          { head: "As a file", cell: (image) => <AsFiles {...image} /> },
        ]}
      />
    </div>
  </Sheet>
);
