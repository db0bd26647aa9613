import type { Metadata } from "next";
import { CheckPapers } from "@/ui/keeping/check-papers";
import { signingKeys } from "@/server/signing";
import { readWitnesses } from "@/server/witness";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "Check papers" };

export default async function PapersPage() {
  await requirePage();
  const keys = (await signingKeys()).map(({ thumbprint }) => thumbprint);
  return (
    <>
      <h1>Check a visit’s papers.</h1>
      <p className="mb-4 max-w-3xl text-faded">
        The archive that a visit’s proof gives is checked against its own hashes, here in the browser: nothing is sent,
        and no database is asked.
      </p>
      <CheckPapers known={{ keys, seals: readWitnesses() }} />
    </>
  );
}
