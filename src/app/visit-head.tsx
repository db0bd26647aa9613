import { Link } from "@/ui/base/link";
import { Plate } from "@/ui/base/parts";
import { jobById } from "@/server/repositories/jobs";

/** What a visit is, where no more of it can be shown. */
export async function VisitHead({ id, what }: { readonly id: number; readonly what: string }) {
  const job = await jobById(id);
  return (
    <div>
      <h1>{what}</h1>
      {job && (
        <p className="mt-1 flex flex-wrap items-center gap-2 text-faded">
          <Plate tag={job.tag} /> {job.headline}, ordered by {job.ordered_by}.{" "}
          <Link href={`/jobs/${job.id}`}>Back to the card</Link>
        </p>
      )}
    </div>
  );
}
