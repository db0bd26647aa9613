import type { Metadata } from "next";
import { currentDocuments } from "@/server/repositories/catalogue";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";
import { NewFamily } from "@/ui/workshop/new-family";

export const metadata: Metadata = { title: "A new family" };

export default async function NewFamilyPage() {
  const account = await requirePage();
  const idioms = await currentDocuments("idiom");
  return (
    <>
      <h1>A new family, from a read-out.</h1>
      <p className="mb-4 text-faded">
        What the console’s lines mean is worked out from the text alone; what cannot be told is asked, on the text
        itself.
      </p>
      <NewFamily mayImport={mayActAs(account.role, "lead")} known={idioms.map(({ id }) => id)} />
    </>
  );
}
