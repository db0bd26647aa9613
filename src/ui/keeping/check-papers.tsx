"use client";

import { useState } from "react";
import { checkPapers, readArchive, type PapersReport } from "@/core/papers";
import { problemOf, type Problem } from "@/core/problem";
import { DropZone } from "@/ui/base/drop-zone";
import { FileButton } from "@/ui/base/file-button";
import { StateShape } from "@/ui/base/mark";
import { Facts, ProblemNote, Sheet } from "@/ui/base/parts";

type Found =
  | { readonly kind: "looking"; readonly name: string }
  | { readonly kind: "report"; readonly name: string; readonly report: PapersReport }
  | { readonly kind: "problem"; readonly problem: Problem };

async function look(file: File): Promise<Found> {
  try {
    const files = readArchive(new Uint8Array(await file.arrayBuffer()));
    if (!files.ok) return { kind: "problem", problem: files.problem };
    return { kind: "report", name: file.name, report: await checkPapers(files.value) };
  } catch (error) {
    return { kind: "problem", problem: problemOf(error) };
  }
}

const ENDED = { finished: "signed off", stopped: "stopped", open: "not ended when they were made" } as const;

/** Takes an archive of papers and says whether they hold. */
export function CheckPapers() {
  const [found, setFound] = useState<Found>();
  const take = ([file]: readonly File[]) => {
    if (!file) return;
    setFound({ kind: "looking", name: file.name });
    void look(file).then(setFound);
  };
  return (
    <div className="grid max-w-3xl gap-4">
      <DropZone onFiles={take}>
        <div>
          <FileButton onFiles={take}>Choose an archive</FileButton>
        </div>
        <p className="text-sm text-faded">Or drop it here.</p>
      </DropZone>
      <div role="status">
        {found?.kind === "looking" && <p className="text-sm">Looking at {found.name}.</p>}
        {found?.kind === "problem" && <ProblemNote problem={found.problem} />}
        {found?.kind === "report" && <Report name={found.name} report={found.report} />}
      </div>
    </div>
  );
}

function Report({ name, report }: { readonly name: string; readonly report: PapersReport }) {
  const { faults, tag, headline, ended, signed, entries, papers, readings, seals } = report;
  return (
    <Sheet label="Result" className="px-4 py-3.5">
      <h2 className="mb-2 flex items-center gap-2">
        <StateShape shape={faults.length === 0 ? "disc" : "square"} />
        {faults.length === 0 ? `${name} is whole` : `${name} is not as it was sealed`}
      </h2>
      {faults.length > 0 && (
        <ul className="mb-3 grid gap-1 text-sm">
          {faults.map(({ says }) => (
            <li key={says} className="break-words">
              {says}.
            </li>
          ))}
        </ul>
      )}
      <Facts
        facts={[
          ["Visit", `${tag}: ${headline}`],
          ["Ended", ENDED[ended]],
          ["Signed", signed ? `${signed.by}, ${signed.at.slice(0, 16).replace("T", " ")}: ${signed.statement}` : "no"],
          ["Entries", String(entries)],
          ["Sealed files", String(papers)],
          ...(readings === 0
            ? []
            : [["Files to read", `${readings}, as they were packed; they carry no seals`] as const]),
          ["Seals", `${seals.first} to ${seals.last}`],
          [
            "Last seal",
            <span key="s" className="key break-all">
              {seals.sha256}
            </span>,
          ],
        ]}
      />
      <p className="mt-2 text-sm text-faded">
        Whoever owned the database could have made the whole chain anew: hold the last seal against one that was written
        down.
      </p>
    </Sheet>
  );
}
