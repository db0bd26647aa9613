"use client";

import { Link } from "@/ui/base/link";
import { useCallback, useRef, useState } from "react";
import type { Problem } from "@/core/problem";
import { send } from "@/ui/base/ask";
import { useDropped } from "@/ui/base/drop-anywhere";
import { DropZone } from "@/ui/base/drop-zone";
import { FileButton } from "@/ui/base/file-button";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { TextBox } from "@/ui/base/text-box";
import { Folded } from "@/ui/base/folded";
import type { InspectedEntry } from "@/contracts/answers/read-outs";

interface Item extends InspectedEntry {
  readonly key: string;
  readonly file: Blob;
  /** Name of the file that it came in, when that is an archive. */
  readonly archive: boolean;
  readonly tag: string;
  /** What it is to be read as; empty: what it says itself. */
  readonly as: string;
  /** What it holds, where the text does not say or says it wrongly. */
  readonly extent: string;
  readonly filed?: number;
  readonly refused?: Problem;
}

const SAY = {
  complete: ["disc", "complete"],
  "moved-only": ["triangle", "moved values only"],
  incomplete: ["square", "incomplete"],
  raw: ["dashed", "raw"],
} as const;

/** Takes any number of files, archives and pasted texts; says what each is, asks whose it is, and files them. */
export function Intake({ tags }: { readonly tags: readonly string[] }) {
  const [items, setItems] = useState<readonly Item[]>([]);
  const [text, setText] = useState("");
  const [busy, setBusy] = useState("");
  const [problem, setProblem] = useState<Problem>();
  const serial = useRef(0);

  const look = useCallback(async (files: readonly { readonly name: string; readonly body: Blob }[]) => {
    setProblem(undefined);
    for (const [i, file] of files.entries()) {
      setBusy(`Reading ${i + 1} of ${files.length}`);
      const answer = await send<{ entries: InspectedEntry[] }>(
        `/api/backups/inspect?name=${encodeURIComponent(file.name.slice(0, 200))}`,
        file.body,
      );
      if (!answer.ok) {
        setProblem(answer.problem);
        continue;
      }
      const archive = answer.value.entries.length > 1 || answer.value.entries[0]?.name !== file.name;
      setItems((old) => [
        ...old,
        ...answer.value.entries.map((entry) => ({
          ...entry,
          key: `item ${serial.current++}`,
          file: file.body,
          archive,
          tag: entry.proposal?.tag ?? "",
          as: "",
          extent: "",
        })),
      ]);
    }
    setBusy("");
  }, []);
  const lookAtFiles = useCallback(
    (files: readonly File[]) => void look(files.map((file) => ({ name: file.name, body: file }))),
    [look],
  );
  useDropped("read-outs", lookAtFiles);

  const ready = items.filter(
    (item) => (item.proposal ?? item.as) && item.tag !== "" && item.filed === undefined && !item.proposal?.duplicate,
  );

  const fileAll = async () => {
    for (const [i, item] of ready.entries()) {
      setBusy(`Filing ${i + 1} of ${ready.length}`);
      const query = new URLSearchParams({
        tag: item.tag,
        ...(item.archive ? { entry: item.name } : {}),
        ...(item.as === "" ? {} : { as: item.as }),
        ...(item.extent === "" || item.as === "" ? {} : { extent: item.extent }),
      });
      const answer = await send<{ id: number }>(`/api/backups?${query.toString()}`, item.file);
      setItems((old) =>
        old.map((each) =>
          each.key !== item.key
            ? each
            : answer.ok
              ? { ...each, filed: answer.value.id }
              : { ...each, refused: answer.problem },
        ),
      );
    }
    setBusy("");
  };

  return (
    <div className="grid gap-4">
      <DropZone onFiles={lookAtFiles}>
        <p className="text-sm">
          Drop read-outs here, as many as you like, or a ZIP of them; or paste what a console printed. Nothing is kept
          before you have seen what each one is.
        </p>
        <TextBox
          aria-label="What the console printed"
          value={text}
          rows={4}
          onChange={(event) => setText(event.target.value)}
          className="key"
        />
        <div className="flex flex-wrap gap-2">
          <Press
            busy={busy !== ""}
            disabled={text.trim() === ""}
            onClick={() => {
              void look([{ name: "pasted text", body: new Blob([text]) }]).then(() => setText(""));
            }}
          >
            Look at this text
          </Press>
          <FileButton many onFiles={lookAtFiles}>
            Choose files
          </FileButton>
        </div>
      </DropZone>
      <p role="status" className="text-sm text-faded empty:hidden">
        {busy}
      </p>
      {problem && <ProblemNote problem={problem} />}
      {items.length > 0 && (
        <>
          <div className="relative overflow-x-auto border border-rule bg-sheet">
            <table aria-label="What was brought">
              <thead>
                <tr>
                  <th>File</th>
                  <th>What it is</th>
                  <th>Judged</th>
                  <th>Whose</th>
                </tr>
              </thead>
              <tbody>
                {items.map((item) => (
                  <IntakeRow
                    key={item.key}
                    item={item}
                    tags={tags}
                    onChange={(change) =>
                      setItems((old) => old.map((each) => (each.key === item.key ? { ...each, ...change } : each)))
                    }
                  />
                ))}
              </tbody>
            </table>
          </div>
          <div>
            <Press look="main" busy={busy !== ""} disabled={ready.length === 0} onClick={() => void fileAll()}>
              {ready.length === 1 ? "File it" : `File ${ready.length}`}
            </Press>
          </div>
        </>
      )}
    </div>
  );
}

function IntakeRow({
  item,
  tags,
  onChange,
}: {
  readonly item: Item;
  readonly tags: readonly string[];
  readonly onChange: (change: Partial<Pick<Item, "tag" | "as" | "extent">>) => void;
}) {
  const { proposal } = item;
  if (!proposal)
    return (
      <tr>
        <td className="min-w-32 wrap-anywhere">{item.name}</td>
        <td colSpan={2} className="text-sm">
          <StateShape shape="square" /> {item.problem?.message}. {item.problem?.detail}
          <Otherwise item={item} onChange={onChange} />
        </td>
        <td className="text-sm">{item.as !== "" && <Whose item={item} tags={tags} onChange={onChange} />}</td>
      </tr>
    );
  const [shape, say] = SAY[proposal.verdict];
  return (
    <tr>
      <td className="min-w-32 wrap-anywhere">{item.name}</td>
      <td className="text-sm">
        {proposal.release}
        {proposal.target !== null && <span className="block key text-faded">{proposal.target}</span>}
        {proposal.evidence.map((text) => (
          <span key={text} className="block text-faded">
            {text}.
          </span>
        ))}
        {item.filed === undefined && <Otherwise item={item} onChange={onChange} />}
      </td>
      <td className="text-sm">
        <StateShape shape={shape} /> {say}
        {proposal.findings
          .filter((finding) => finding.against || proposal.verdict !== "complete")
          .slice(0, 4)
          .map((finding) => (
            <span key={finding.text} className="block text-faded">
              {finding.text}.
            </span>
          ))}
      </td>
      <td className="text-sm">
        {item.filed === undefined && proposal.duplicate ? (
          <>
            <StateShape shape="dash" /> on file already:{" "}
            <Link href={`/backups/${proposal.duplicate.id}`}>{proposal.duplicate.name}</Link>
          </>
        ) : (
          <>
            <Whose item={item} tags={tags} onChange={onChange} />
            <span className="block text-faded">
              {proposal.tag === null ? `${proposal.tagBy}.` : `Proposed by ${proposal.tagBy}.`}
            </span>
          </>
        )}
      </td>
    </tr>
  );
}

type Changing = Parameters<typeof IntakeRow>[0]["onChange"];

function Whose({
  item,
  tags,
  onChange,
}: {
  readonly item: Item;
  readonly tags: readonly string[];
  readonly onChange: Changing;
}) {
  if (item.filed !== undefined)
    return (
      <>
        <StateShape shape="disc" /> <Link href={`/backups/${item.filed}`}>filed with {item.tag}</Link>
      </>
    );
  return (
    <>
      <Select
        label={`Aircraft of ${item.name}`}
        says="hidden"
        value={item.tag}
        none="Choose…"
        options={tags.map((tag) => ({ value: tag, text: tag }))}
        onValue={(tag) => onChange({ tag })}
      />
      {item.refused && <ProblemNote problem={item.refused} />}
    </>
  );
}

const HOLDS = [
  { value: "all", text: "It holds everything" },
  { value: "moved", text: "It holds only what was changed" },
] as const;

/** What else a text may be read as, with what speaks for it; and what it holds, where nobody but a person knows. */
function Otherwise({ item, onChange }: { readonly item: Item; readonly onChange: Changing }) {
  if (item.candidates.length === 0) return null;
  const chosen = item.candidates.find(({ releaseId }) => releaseId === item.as);
  return (
    <Folded className="mt-1" look="link" opened={item.as !== ""} head="Read it otherwise">
      <div className="grid justify-items-start gap-1">
        <Select
          label={`Read ${item.name} as`}
          says="hidden"
          value={item.as}
          none="As it says itself"
          options={item.candidates.map(({ releaseId, title }) => ({ value: releaseId, text: `As ${title}` }))}
          onValue={(as) => onChange({ as })}
        />
        {chosen && (
          <>
            <span className="text-faded">{chosen.evidence}.</span>
            <Select
              label={`What ${item.name} holds`}
              says="hidden"
              value={item.extent}
              none="It holds what it says"
              options={HOLDS}
              onValue={(extent) => onChange({ extent })}
            />
          </>
        )}
      </div>
    </Folded>
  );
}
