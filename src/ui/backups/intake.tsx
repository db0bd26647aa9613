"use client";

import { useCallback, useRef, useState } from "react";
import type { Problem } from "@/core/problem";
import { send } from "@/ui/base/ask";
import { useDropped } from "@/ui/base/drop-anywhere";
import { DropZone } from "@/ui/base/drop-zone";
import { FileButton } from "@/ui/base/file-button";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Table } from "@/ui/base/table";
import { TextBox } from "@/ui/base/text-box";
import { Judged, WhatItIs, WhoseItIs, type Brought, type Changing } from "@/ui/backups/intake-cells";
import type { InspectedEntry } from "@/contracts/answers/read-outs";

/** Takes any number of files, archives and pasted texts; says what each is, asks whose it is, and files them. */
export function Intake({ tags }: { readonly tags: readonly string[] }) {
  const [items, setItems] = useState<readonly Brought[]>([]);
  const [text, setText] = useState("");
  const [busy, setBusy] = useState("");
  const [problem, setProblem] = useState<Problem>();
  const serial = useRef(0);
  const changeOf =
    ({ key }: Brought): Changing =>
    (change) =>
      setItems((old) => old.map((each) => (each.key === key ? { ...each, ...change } : each)));

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
            <Table
              label="What was brought"
              rows={items}
              keyOf={({ key }) => key}
              columns={[
                { head: "File", look: "min-w-32 wrap-anywhere", cell: ({ name }) => name },
                {
                  head: "What it is",
                  look: "text-sm",
                  cell: (item) => <WhatItIs item={item} onChange={changeOf(item)} />,
                },
                { head: "Judged", look: "text-sm", cell: (item) => <Judged item={item} /> },
                {
                  head: "Whose",
                  look: "text-sm",
                  cell: (item) => <WhoseItIs item={item} tags={tags} onChange={changeOf(item)} />,
                },
              ]}
            />
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
