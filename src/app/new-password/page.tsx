import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { Door } from "@/app/door";
import { currentAccount } from "@/server/web/session";
import { OwnPassword } from "@/ui/people/own-password";

export const metadata: Metadata = { title: "A password of your own" };

export default async function NewPasswordPage() {
  const account = await currentAccount();
  if (!account) redirect("/sign-in");
  if (!account.mustChange) redirect("/me");
  return (
    <Door
      title="A password of your own"
      lead={`${account.person || account.name}, the one that you came in with was made by somebody else. What you sign must be yours alone.`}
    >
      <OwnPassword atTheDoor />
    </Door>
  );
}
