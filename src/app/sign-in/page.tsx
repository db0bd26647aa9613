import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { Door } from "@/app/door";
import { hasAccounts } from "@/server/accounts";
import { currentAccount } from "@/server/web/session";
import { SignInForm } from "@/ui/base/sign-in-form";

export const metadata: Metadata = { title: "Sign in" };

export default async function SignInPage() {
  if (await currentAccount()) redirect("/");
  if (!(await hasAccounts())) redirect("/first");
  return (
    <Door
      title="Come in"
      lead="Work on aircraft is signed with a name; this is where you give yours."
      below="The demo workshop’s names and passwords stand where it was started, under “Demo accounts”. Lost your password? Ask a lead for a new one."
    >
      <SignInForm />
    </Door>
  );
}
