import type { DetourView } from "@/contracts/answers/parts";
import { OneOf } from "@/ui/base/one-of";

const LEAVE = "leave";
const SAYS: Readonly<Record<string, string>> = { candidate: ", a candidate", experimental: ", experimental" };

/** What a detour takes and what it puts at risk, in one sentence. */
export function detourSentence({ instead, minutes, hands }: DetourView): string {
  const meanwhile = instead
    ? ` It is the firmware of ${instead.target}, its nearest neighbour${instead.pads.length === 0 ? ", with the same pads" : `: meanwhile ${instead.pads.join(", ")} work otherwise`}.`
    : "";
  return `The board is written twice: this first, its own firmware again at the end, with its settings. About ${minutes} ${minutes === 1 ? "minute" : "minutes"} of board time, your hands ${hands} times.${meanwhile} If anything stops it in between, the aircraft stays out of service, and the way back stands.`;
}

/** Ways round to parts that the firmware on the board does not reach; leaving them as they are comes first. */
export function Detours({
  detours,
  kinds,
  value,
  onValue,
}: {
  readonly detours: readonly DetourView[];
  readonly kinds: string;
  readonly value: string;
  readonly onValue: (releaseId: string) => void;
}) {
  const chosen = detours.find(({ releaseId }) => releaseId === value);
  return (
    <div className="grid gap-2">
      <OneOf
        label={`The way to the ${kinds}`}
        value={value === "" ? LEAVE : value}
        choices={[
          { value: LEAVE, says: "Leave them as they are" },
          ...detours.map(({ releaseId, title, standing, instead }) => ({
            value: releaseId,
            says: `By way of ${title}${instead ? ` for ${instead.target}` : ""}${SAYS[standing] ?? ""}`,
          })),
        ]}
        onValue={(next) => onValue(next === LEAVE ? "" : next)}
      />
      {chosen && <p className="text-sm">{detourSentence(chosen)}</p>}
    </div>
  );
}
