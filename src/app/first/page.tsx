import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { Door } from "@/app/door";
import { oneParam, type SearchParams } from "@/app/params";
import { hasAccounts } from "@/server/accounts";
import { FirstLead } from "@/ui/people/first-lead";

export const metadata: Metadata = { title: "The first account" };

export default async function FirstPage({ searchParams }: { readonly searchParams: SearchParams }) {
  if (await hasAccounts()) redirect("/sign-in");
  return (
    <Door
      title="A new workshop"
      lead="Nobody works here yet. Make the account of its lead: it adds all others, and decides what only a lead may."
      below="Only who can read what bin/start printed has the code; nobody else can open this workshop."
    >
      <FirstLead code={oneParam((await searchParams).code)} />
    </Door>
  );
}
