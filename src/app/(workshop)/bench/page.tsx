import { redirect } from "next/navigation";

/** The bench is its bays: the first of them stands open. */
export default function BenchPage(): never {
  redirect("/bench/1");
}
