import type { Metadata } from "next";
import { hasSecond } from "@/server/second-factor";
import { openSessions } from "@/server/sessions";
import { currentSession, requirePage } from "@/server/web/session";
import { AskButton } from "@/ui/base/ask";
import { Facts, Sheet } from "@/ui/base/parts";
import { age, dayTime } from "@/ui/base/time";
import { browserName } from "@/ui/people/browser";
import { SecondFactor } from "@/ui/people/second-factor";
import { OwnPassword } from "@/ui/people/own-password";

export const metadata: Metadata = { title: "Your account" };

export default async function OwnPage() {
  const account = await requirePage();
  const own = await currentSession();
  const sessions = await openSessions(account.id);
  const now = new Date().getTime();
  return (
    <>
      <h1 className="mb-4">{account.person || account.name}</h1>
      <div className="grid items-start gap-6 md:grid-cols-[1fr_22rem]">
        <Sheet label="Where you are signed in" className="grid gap-3 px-4 py-3.5">
          <h2>Where you are signed in</h2>
          <Facts
            facts={[
              ["Name", account.name],
              ["Role", account.role],
            ]}
          />
          <ul className="grid gap-2 text-sm">
            {sessions.map((each) => (
              <li key={each.id}>
                {browserName(each.browser)} at {each.address || "an unknown address"}
                {each.id === own?.id ? ", this one" : ""}
                <span className="block text-faded">
                  since {dayTime(each.created_at.getTime())}, last used {age(each.seen_at.getTime(), now)}
                </span>
              </li>
            ))}
          </ul>
          {sessions.length > 1 && (
            <div>
              <AskButton path="/api/me/sessions" body={{}}>
                Sign out everywhere else
              </AskButton>
            </div>
          )}
        </Sheet>
        <div className="grid gap-4">
          <Sheet label="Password" className="px-4 py-3.5">
            <h2 className="mb-2">Your password</h2>
            <OwnPassword />
          </Sheet>
          <Sheet label="Second factor" className="px-4 py-3.5">
            <h2 className="mb-2">Second factor</h2>
            <SecondFactor has={await hasSecond(account.id)} />
          </Sheet>
        </div>
      </div>
    </>
  );
}
