"use client";

import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { Once } from "@/ui/people/once";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { Field } from "@/ui/base/field";
import { Folded } from "@/ui/base/folded";

export interface PersonView {
  readonly id: number;
  readonly name: string;
  readonly person: string;
  readonly role: string;
  readonly closed: boolean;
  /** Waits for the password that was made for it to be replaced. */
  readonly fresh: boolean;
  /** A code is wanted beside the password. */
  readonly second: boolean;
  readonly sessions: readonly string[];
  readonly lastIn: string;
}

const ROLE_MAY: Readonly<Record<string, string>> = {
  observer: "reads",
  technician: "reads, orders and signs off jobs",
  lead: "reads, orders and signs off jobs, decides on documents, standards and people",
};

/** Who may come in: each with what they may do, where they are in from, and what a lead can do about it. */
export function PeopleList({ people, self }: { readonly people: readonly PersonView[]; readonly self: number }) {
  return (
    <ul className="grid gap-3">
      {people.map((each) => (
        <li key={each.id}>
          <Person of={each} isSelf={each.id === self} />
        </li>
      ))}
    </ul>
  );
}

function Person({ of, isSelf }: { readonly of: PersonView; readonly isSelf: boolean }) {
  const { ask, busy, problem } = useAsk();
  const [password, setPassword] = useState<string>();
  const [person, setPerson] = useState(of.person);
  const path = `/api/accounts/${of.id}`;
  const act = (body: object) => () =>
    void ask<{ password?: string }>(path, body).then((done) => setPassword(done?.password));
  return (
    <Sheet label={of.name} className="grid gap-x-6 gap-y-2 px-4 py-3.5 md:grid-cols-[14rem_1fr]">
      <div>
        <h2 className="flex items-center gap-2">
          <StateShape shape={of.closed ? "square" : of.sessions.length > 0 ? "disc" : "ring"} /> {of.name}
        </h2>
        <p className="text-sm">{of.person}</p>
        <p className="text-sm text-faded">
          {of.closed
            ? "Closed; nobody can sign in with it"
            : of.fresh
              ? "Has not replaced the password that was made"
              : `${of.role}: ${ROLE_MAY[of.role] ?? ""}`}
        </p>
      </div>
      <div className="grid content-start gap-2 text-sm">
        <p>{of.sessions.length === 0 ? `Not signed in. Last: ${of.lastIn}` : `Signed in: ${of.sessions.join("; ")}`}</p>
        <Folded look="link" head={`Change ${isSelf ? "yourself" : of.name}`}>
          <div className="mt-2 flex flex-wrap items-end gap-2">
            <div className="flex items-end gap-2">
              <Field
                label="Called"
                look="plain"
                value={person}
                maxLength={80}
                onChange={(event) => setPerson(event.target.value)}
              />
              <Press busy={busy} disabled={person === of.person} onClick={act({ act: "person", person })}>
                Keep
              </Press>
            </div>
            <Select
              label="Role"
              value={of.role}
              disabled={of.closed}
              busy={busy}
              options={Object.keys(ROLE_MAY).map((role) => ({ value: role, text: role }))}
              onValue={(role) => act({ act: "role", role })()}
            />
            {!isSelf && (
              <Press busy={busy} onClick={act({ act: "password" })}>
                Give a new password
              </Press>
            )}
            <Press busy={busy} disabled={of.sessions.length === 0} onClick={act({ act: "sign-out" })}>
              Sign out everywhere
            </Press>
            {of.second && (
              <Press busy={busy} onClick={act({ act: "second-off" })}>
                Take the second factor away
              </Press>
            )}
            <Press busy={busy} onClick={act({ act: "unlock" })}>
              Allow sign-in again
            </Press>
            <Press look={of.closed ? "plain" : "loss"} busy={busy} onClick={act({ act: of.closed ? "open" : "close" })}>
              {of.closed ? "Reopen the account" : "Close the account"}
            </Press>
          </div>
        </Folded>
        {password !== undefined && <Once name={of.name} password={password} />}
        {problem && <ProblemNote problem={problem} />}
      </div>
    </Sheet>
  );
}
