"use client";

import { useState } from "react";
import { checkPapers, readArchive, type Known, type PapersReport } from "@/core/papers";
import { problemOf, type Problem } from "@/core/problem";
import { DropZone } from "@/ui/base/drop-zone";
import { FileButton } from "@/ui/base/file-button";
import { StateShape } from "@/ui/base/mark";
import { Facts, ProblemNote, Sheet } from "@/ui/base/parts";

type Found =
  | { readonly kind: "looking"; readonly name: string }
  | { readonly kind: "report"; readonly name: string; readonly report: PapersReport }
  | { readonly kind: "problem"; readonly problem: Problem };

async function look(file: File, known: Known): Promise<Found> {
  try {
    const files = readArchive(new Uint8Array(await file.arrayBuffer()));
    if (!files.ok) return { kind: "problem", problem: files.problem };
    return { kind: "report", name: file.name, report: await checkPapers(files.value, known) };
  } catch (error) {
    return { kind: "problem", problem: problemOf(error) };
  }
}

const ENDED = { finished: "signed off", stopped: "stopped", open: "not ended when they were made" } as const;

/** Takes an archive of papers and says whether they hold; `known`: this workshop's keys and the seals that it wrote down. */
export function CheckPapers({ known }: { readonly known: Known }) {
  const [found, setFound] = useState<Found>();
  const take = ([file]: readonly File[]) => {
    if (!file) return;
    setFound({ kind: "looking", name: file.name });
    void look(file, known).then(setFound);
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

const ORIGIN = {
  key: "The workshop’s own: its key signed them",
  seal: "The workshop’s own: their chain holds a seal that it wrote down",
} as const;

function Report({ name, report }: { readonly name: string; readonly report: PapersReport }) {
  const { faults, statement, entries, papers, readings, last, key, origin } = report;
  const { tag, headline, ended, signed, first } = statement;
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
          ["Files", `${papers} sealed papers, ${readings} files to read`],
          ["Seals", `${first.no} to ${last.no}`],
          [
            "Last seal",
            <span key="s" className="key break-all">
              {last.sha256}
            </span>,
          ],
          [
            "Signed with",
            <span key="k" className="key break-all">
              {key === "" ? "no key" : key}
            </span>,
          ],
          [
            "Whose",
            origin === undefined
              ? "Not known: no key and no seal of this workshop is in it. Another workshop’s papers are checked with bin/verify and its key"
              : ORIGIN[origin],
          ],
        ]}
      />
    </Sheet>
  );
}
