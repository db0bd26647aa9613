import type { Metadata } from "next";
import { Intake } from "@/ui/backups/intake";
import { listTags } from "@/server/repositories/fleet";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "File read-outs" };

export default async function FilePage() {
  const account = await requirePage();
  const tags = await listTags();
  return (
    <>
      <h1 className="mb-3">File read-outs that you have.</h1>
      {mayActAs(account.role, "technician") ? (
        <Intake tags={tags} />
      ) : (
        <p className="text-faded">You can view. A technician files read-outs.</p>
      )}
    </>
  );
}
