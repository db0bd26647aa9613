"use client";

import { useState } from "react";
import { BATTERIES, type Supply } from "@/core/catalog";
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

const FEEDS: Readonly<Record<Supply, string>> = {
  battery: "the battery alone",
  "second battery": "the second battery alone",
  board: "the board",
};
const BY_PLACE = "by place";
const EACH_FEEDS = [
  ...BATTERIES.map((value) => ({ value, text: FEEDS[value] })),
  { value: "board", text: FEEDS.board },
];

/** Says what is fitted beside the board: a kind, what each is, and where they are, in the order that the firmware counts them. */
export function FitParts({ tag, kinds }: { readonly tag: string; readonly kinds: readonly Fittable[] }) {
  const { ask, busy, problem } = useAsk();
  const [part, setPart] = useState(kinds[0]?.part ?? "");
  const [target, setTarget] = useState("");
  const [title, setTitle] = useState("");
  const [supply, setSupply] = useState<string>("battery");
  const [feeds, setFeeds] = useState<Readonly<Record<string, string>>>({});
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
          const fed = supply === BY_PLACE ? list.map((place) => feeds[place] ?? "battery") : [supply];
          const body = { part, title: title || part, places: list, target, supply: fed.length > 0 ? fed : ["battery"] };
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
          <Select
            label="Fed by"
            value={supply}
            options={[...EACH_FEEDS, { value: BY_PLACE, text: "not all the same: said for each place" }]}
            onValue={setSupply}
          />
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
        {supply === BY_PLACE && list.length > 0 && (
          <div className="grid grid-cols-3 gap-2 max-md:grid-cols-1">
            {list.map((place) => (
              <Select
                key={place}
                label={`${place} is fed by`}
                value={feeds[place] ?? "battery"}
                options={EACH_FEEDS}
                onValue={(value) => setFeeds((old) => ({ ...old, [place]: value }))}
              />
            ))}
          </div>
        )}
        <Press submit busy={busy} className="justify-self-start">
          {list.length === 0 ? `No ${part} are fitted` : `${list.length} ${part} are fitted`}
        </Press>
      </form>
      {problem && <ProblemNote problem={problem} />}
    </Folded>
  );
}
