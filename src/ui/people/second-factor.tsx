"use client";

import { useState, type SyntheticEvent } from "react";
import { useAsk } from "@/ui/base/ask";
import { Field } from "@/ui/base/field";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";

interface Proposal {
  readonly key: string;
  readonly picture: string;
  readonly seal: string;
}

/** A code that changes by the clock, beside the password: set up with its first code, taken away with another. */
export function SecondFactor({ has }: { readonly has: boolean }) {
  const { ask, busy, problem } = useAsk();
  const [proposal, setProposal] = useState<Proposal>();
  const [code, setCode] = useState("");
  const path = "/api/me/second";
  const send = async (event: SyntheticEvent) => {
    event.preventDefault();
    const body = has ? { act: "end", code } : { act: "confirm", code, seal: proposal?.seal };
    if (!(await ask(path, body))) return;
    setProposal(undefined);
    setCode("");
  };
  return (
    <div className="grid gap-3 text-sm">
      <p className="text-faded">
        {has
          ? "Who comes in with your name is asked for a code as well. Without your authenticator, a lead takes this away."
          : "With an authenticator, your password alone opens nothing."}
      </p>
      {!has && !proposal && (
        <div>
          <Press
            busy={busy}

            onClick={() => void ask<Proposal>(path, { act: "propose" }).then(setProposal)}
          >
            Set one up
          </Press>
        </div>
      )}
      {proposal && !has && (
        <>
          {/* eslint-disable-next-line @next/next/no-img-element -- made this moment, for nobody else */}
          <img src={proposal.picture} width={220} height={220} alt="The key, for the camera of an authenticator" />
          <p>
            Or type it: <span className="key wrap-anywhere select-all">{proposal.key}</span>
          </p>
        </>
      )}
      {(has || proposal) && (
        <form onSubmit={(event) => void send(event)} className="grid gap-3">
          <Field
            label={has ? "A code, to take it away" : "The code that it shows"}
            error={undefined}
            inputMode="numeric"
            autoComplete="one-time-code"
            value={code}
            onChange={(event) => setCode(event.target.value)}
          />
          <div>
            <Press submit busy={busy} disabled={code === ""}>
              {has ? "Remove second factor" : "Use it from now on"}
            </Press>
          </div>
        </form>
      )}
      {problem && <ProblemNote problem={problem} />}
    </div>
  );
}
