import type { Metadata } from "next";
import { recogniseText } from "@/core/idiom";
import { IdiomWorkshop } from "@/ui/workshop/idiom-workshop";
import { currentDocuments, loadCatalogue } from "@/server/repositories/catalogue";
import { newestSample } from "@/server/repositories/backups";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "Idiom workshop" };

export default async function WorkshopPage() {
  const account = await requirePage();
  const [idioms, sample] = [await currentDocuments("idiom"), await newestSample()];
  const recognised = recogniseText(sample, await loadCatalogue());
  return (
    <>
      <h1>Idiom workshop.</h1>
      <p className="mb-4 text-faded">
        Write down how a console speaks, beside a sample of it. No code knows any console: what stands here is all.
      </p>
      <IdiomWorkshop
        idioms={idioms.map((each) => ({ id: each.id, title: String(each.body.title), text: each.text }))}
        mayImport={mayActAs(account.role, "lead")}
        sampleAtFirst={sample}
        beginWith={recognised.ok ? recognised.value.recital.idiom.id : undefined}
      />
    </>
  );
}
