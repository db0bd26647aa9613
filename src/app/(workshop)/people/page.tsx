import type { Metadata } from "next";
import { allAccounts } from "@/server/accounts";
import { ROLES } from "@/server/roles";
import { openSessions } from "@/server/sessions";
import { lastSignIns, signInLog } from "@/server/sign-ins";
import { requirePage } from "@/server/web/session";
import { Sheet } from "@/ui/base/parts";
import { age, dayTime } from "@/ui/base/time";
import { inWords } from "@/ui/base/words";
import { AddPerson } from "@/ui/people/add-person";
import { browserName } from "@/ui/people/browser";
import { PeopleList } from "@/ui/people/people-list";
import { SignInTable } from "@/ui/people/sign-in-table";

export const metadata: Metadata = { title: "People" };

const LINES = 500;

export default async function PeoplePage() {
  const account = await requirePage("lead");
  const [accounts, sessions, log, last] = [
    await allAccounts(),
    await openSessions(),
    await signInLog(LINES),
    await lastSignIns(),
  ];
  const now = new Date().getTime();
  const inside = new Set(sessions.map((session) => session.account_id)).size;
  return (
    <>
      <h1 className="mb-4">
        {inWords(accounts.filter((each) => !each.disabled_at).length)} may come in, {inWords(inside).toLowerCase()}{" "}
        {inside === 1 ? "is" : "are"} in.
      </h1>
      <div className="grid items-start gap-6 lg:grid-cols-[1fr_20rem]">
        <PeopleList
          self={account.id}
          people={accounts.map(({ id, name, person, role, disabled_at, password_temporary, second }) => ({
            id,
            name,
            person,
            role,
            closed: disabled_at !== null,
            fresh: password_temporary,
            second,
            sessions: sessions
              .filter((session) => session.account_id === id)
              .map(
                ({ browser, address, seen_at }) =>
                  `${browserName(browser)} at ${address || "an unknown address"}, ${age(seen_at.getTime(), now)}`,
              ),
            lastIn: last.has(id) ? dayTime(last.get(id)?.getTime() ?? 0) : "never",
          }))}
        />
        <Sheet label="Add an account" className="px-4 py-3.5">
          <h2 className="mb-2">Add an account</h2>
          <AddPerson roles={ROLES} />
        </Sheet>
      </div>
      <h2 className="mt-8 mb-2">Who came in, and who tried</h2>
      <p className="mb-3 text-sm text-faded">
        The newest {LINES} of the last four hundred days. What was typed as a name that nobody has is not kept: it may
        have been a password.
      </p>
      <SignInTable
        rows={log.map((line) => ({
          id: Number(line.id),
          at: line.at.getTime(),
          name: line.name ?? "no account of that name",
          address: line.address,
          browser: browserName(line.browser) + (line.known ? ", known here" : ""),
          outcome: line.outcome,
          detail: line.detail,
        }))}
      />
    </>
  );
}
