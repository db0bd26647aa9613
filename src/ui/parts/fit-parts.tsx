"use client";

import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { Folded } from "@/ui/base/folded";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { TextBox } from "@/ui/base/text-box";

export interface Fittable {
  readonly part: string;
  readonly targets: readonly string[];
}

const SUPPLIES = [
  { value: "battery", text: "the battery alone" },
  { value: "board", text: "the board" },
] as const;

/** Says what is fitted beside the board: a kind, what each is, and where they are, in the order that the firmware counts them. */
export function FitParts({ tag, kinds }: { readonly tag: string; readonly kinds: readonly Fittable[] }) {
  const { ask, busy, problem } = useAsk();
  const [part, setPart] = useState(kinds[0]?.part ?? "");
  const [target, setTarget] = useState("");
  const [title, setTitle] = useState("");
  const [supply, setSupply] = useState<string>("battery");
  const [places, setPlaces] = useState("");
  const kind = kinds.find((each) => each.part === part);
  const list = places
    .split(/[,\n]/)
    .map((each) => each.trim())
    .filter((each) => each !== "");
  if (!kind) return null;
  return (
    <Folded className="px-4 pb-3 text-sm" look="link" head="Say what is fitted">
      <form
        className="mt-2 grid max-w-[560px] gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          const body = { part, title: title || part, places: list, target, supply };
          void ask(`/api/aircraft/${tag}/parts`, body).then((done) => done && setPlaces(""));
        }}
      >
        <div className="grid grid-cols-3 gap-2 max-md:grid-cols-1">
          <Select
            label="Kind of part"
            value={part}
            options={kinds.map((each) => ({ value: each.part, text: each.part }))}
            onValue={setPart}
          />
          <Select
            label="Each is"
            value={target}
            options={[{ value: "", text: "not known" }, ...kind.targets.map((each) => ({ value: each, text: each }))]}
            onValue={setTarget}
          />
          <Select label="Fed by" value={supply} options={[...SUPPLIES]} onValue={setSupply} />
        </div>
        <TextBox
          label="What one is called"
          maxLength={60}
          value={title}
          onChange={(event) => setTitle(event.target.value)}
        />
        <TextBox
          label="Where they are, in the order that the firmware counts them, with commas; none: nothing of the kind is fitted"
          maxLength={800}
          value={places}
          onChange={(event) => setPlaces(event.target.value)}
        />
        <Press submit busy={busy} className="justify-self-start">
          {list.length === 0 ? `No ${part} are fitted` : `${list.length} ${part} are fitted`}
        </Press>
      </form>
      {problem && <ProblemNote problem={problem} />}
    </Folded>
  );
}
