import type { Metadata } from "next";
import { redirect } from "next/navigation";
import { Brand } from "@/ui/base/frame";
import { SignInForm } from "@/ui/base/sign-in-form";
import { currentAccount } from "@/server/web/session";

export const metadata: Metadata = { title: "Sign in" };

export default async function SignInPage() {
  if (await currentAccount()) redirect("/");
  return (
    <main className="mx-auto mt-[14vh] w-[min(24rem,92vw)]">
      <Brand />
      <div className="mt-5 border border-rule bg-sheet p-6">
        <h1>Come in</h1>
        <p className="mt-1 mb-4 text-sm text-faded">
          Work on aircraft is signed with a name; this is where you give yours.
        </p>
        <SignInForm />
      </div>
      <p className="mt-3 text-sm text-faded">
        The demo workshop’s names and passwords stand where it was started, under “Demo accounts”.
      </p>
    </main>
  );
}
