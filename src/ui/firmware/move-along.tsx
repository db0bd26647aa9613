import { Link } from "@/ui/base/link";
import { meeting, releaseTitle, versionsOf, type Catalogue, type Requirement } from "@/core/catalog";
import { Sheet } from "@/ui/base/parts";

const SHOWN = 12;

/** What other parts must run, where asked on which aircraft; the releases that meet it lead to what they change. */
export function MoveAlong({
  catalogue,
  requirements,
}: {
  readonly catalogue: Catalogue;
  readonly requirements: readonly { readonly requirement: Requirement; readonly tags?: readonly string[] }[];
}) {
  if (requirements.length === 0) return null;
  return (
    <Sheet label="What must move along" className="mb-5 px-4 py-3">
      <h2 className="mb-1">What must move along</h2>
      <ul className="text-sm">
        {requirements.map(({ requirement, tags }) => (
          <li key={`${requirement.part} ${requirement.family}`}>
            {requirement.part}: {requirement.family} {versionsOf(requirement)}
            {requirement.why === undefined ? "" : `. ${requirement.why}`}.{" "}
            <Meeting found={meeting(catalogue, requirement)} />
            {tags && (
              <span className="text-faded">
                {" "}
                For {tags.slice(0, SHOWN).join(", ")}
                {tags.length > SHOWN ? ` and ${tags.length - SHOWN} more` : ""}.
              </span>
            )}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

function Meeting({ found }: { readonly found: ReturnType<typeof meeting> }) {
  if (found.length === 0) return <span className="text-faded">The catalogue holds no such release.</span>;
  return (
    <>
      What they change:{" "}
      {found.map((release, i) => (
        <span key={release.id}>
          {i > 0 && ", "}
          <Link href={`/firmware/changes?to=${release.id}`} className="inline-flex min-h-6 items-center">
            {releaseTitle(release)}
          </Link>
        </span>
      ))}
      .
    </>
  );
}
