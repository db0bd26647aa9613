import { notFound } from "next/navigation";
import { requirePage } from "@/server/web/session";

/** Whatever has no page of its own: said inside the frame, so that search and keys are there as anywhere. */
export default async function NowherePage(): Promise<never> {
  await requirePage();
  notFound();
}
