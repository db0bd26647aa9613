import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { Door } from "@/app/door";
import { currentAccount } from "@/server/web/session";
import { SecondFactor } from "@/ui/people/second-factor";

export const metadata: Metadata = { title: "A second factor" };

/** Where the workshop wants one: nothing else opens before it is set up. */
export default async function SecondFactorPage() {
  const account = await currentAccount();
  if (!account) redirect("/sign-in");
  if (account.mustChange) redirect("/new-password");
  if (!account.mustProve) redirect("/me");
  return (
    <Door
      title="A second factor"
      lead={`${account.person || account.name}, this workshop asks for a code beside your password. You need an authenticator.`}
    >
      <SecondFactor has={false} />
    </Door>
  );
}
