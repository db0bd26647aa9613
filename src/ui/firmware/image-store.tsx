import { FORMATS } from "@/core/image/formats";
import { Sheet } from "@/ui/base/parts";
import { dayTime } from "@/ui/base/time";

export interface StoredImage {
  readonly id: number;
  readonly title: string;
  readonly target: string;
  readonly version: number;
  readonly sha256: string;
  readonly lengthBytes: number;
  readonly by: string;
  readonly at: number;
}

/** Every image that came in, none ever overwritten; each can be had in any format. */
export const ImageStore = ({ images }: { readonly images: readonly StoredImage[] }) => (
  <Sheet label="Images" className="overflow-x-auto">
    <h2 className="px-4 pt-3 pb-1">Images</h2>
    <div className="max-h-96 overflow-y-auto" tabIndex={0} role="region" aria-label="List of images">
      <table>
        <thead className="sticky top-0 bg-sheet">
          <tr>
            <th>Release</th>
            <th>Target</th>
            <th>Size</th>
            <th>SHA-256</th>
            <th>Imported</th>
            <th>As a file</th>
          </tr>
        </thead>
        <tbody>
          {images.map((image) => (
            <tr key={image.id}>
              <td className="whitespace-nowrap">
                <a href={`/firmware/images/${image.id}`} className="inline-flex min-h-6 items-center">
                  {image.title}
                </a>
                {image.version > 1 && <span className="text-faded">, version {image.version}</span>}
              </td>
              <td className="key">{image.target}</td>
              <td className="whitespace-nowrap">{Math.round(image.lengthBytes / 1024)} KB</td>
              <td className="key">{image.sha256.slice(0, 12)}</td>
              <td className="whitespace-nowrap">
                {dayTime(image.at)} by {image.by}
              </td>
              <td>
                <span className="flex flex-wrap gap-x-2.5">
                  {FORMATS.map(({ id, title, extension }) => (
                    <a
                      key={id}
                      href={`/api/images/${image.id}?format=${id}`}
                      download
                      className="inline-flex min-h-6 items-center"
                      aria-label={`${image.title} for ${image.target} as ${title}`}
                    >
                      {extension}
                    </a>
                  ))}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  </Sheet>
);
