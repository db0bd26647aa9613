"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import type { LearntRelease } from "@/core/learn";
import { Table } from "@/ui/base/table";
import { useAsk } from "@/ui/base/ask";
import { FileButton } from "@/ui/base/file-button";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { Field } from "@/ui/base/field";
import { TextBox } from "@/ui/base/text-box";

const typeText = (type: object): string => {
  const [kind = "", body] = Object.entries(type)[0] ?? [];
  if (kind === "number") {
    const { min, max, step, unit } = body as { min: number; max: number; step: number; unit?: string };
    return `number ${min} to ${max} by ${step}${unit === undefined ? "" : ` ${unit}`}`;
  }
  if (kind === "choice" || kind === "flags") return `${kind}: ${(body as string[]).join(", ")}`;
  return kind === "text" ? `text of ${String(body)}` : kind;
};

/** A read-out of a freshly erased board becomes a release document. */
export function LearnRelease({
  idioms,
}: {
  readonly idioms: readonly { readonly id: string; readonly title: string }[];
}) {
  const router = useRouter();
  const [text, setText] = useState("");
  const [idiom, setIdiom] = useState("");
  const [family, setFamily] = useState("");
  const [version, setVersion] = useState("");
  const [learnt, setLearnt] = useState<LearntRelease>();
  const { ask, busy, problem } = useAsk();
  const learn = async (keep: boolean) => {
    const query = new URLSearchParams({ family, version, keep: String(keep), ...(idiom === "" ? {} : { idiom }) });
    const found = await ask<LearntRelease & { kept?: { id: string } }>(
      `/api/learn?${query.toString()}`,
      new Blob([text]),
    );
    if (!found) return;
    setLearnt(found);
    if (found.kept) router.push(`/firmware#${found.kept.id}`);
  };
  return (
    <Sheet label="Learn a release" className="px-4 py-3.5">
      <h2>From the read-out of a freshly erased board</h2>
      <TextBox
        aria-label="Read-out of a freshly erased board"
        rows={6}
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="mt-2 key"
      />
      <div className="mt-2 grid grid-cols-3 gap-3 text-sm max-md:grid-cols-1">
        <Select
          label="In the idiom"
          look="wide"
          value={idiom}
          none="the one that makes most of it"
          options={idioms.map(({ id, title }) => ({ value: id, text: title }))}
          onValue={setIdiom}
        />
        <Field
          label="Family, if it does not say"
          value={family}
          maxLength={80}
          onChange={(event) => setFamily(event.target.value)}
        />
        <Field
          label="Version, if it does not say"
          value={version}
          maxLength={16}
          onChange={(event) => setVersion(event.target.value)}
        />
      </div>
      <div className="mt-3 flex flex-wrap gap-2">
        <Press look="main" busy={busy} disabled={text.trim() === ""} onClick={() => void learn(false)}>
          Learn from it
        </Press>
        <FileButton
          onFiles={([file]) => {
            if (file) void file.text().then(setText);
          }}
        >
          Take a file
        </FileButton>
        {learnt && (
          <Press busy={busy} onClick={() => void learn(true)}>
            Keep as {String(learnt.document.family)} {String(learnt.document.version)}
          </Press>
        )}
      </div>
      {problem && (
        <div className="mt-2">
          <ProblemNote problem={problem} />
        </div>
      )}
      {learnt && (
        <>
          <p role="status" className="mt-3 text-sm">
            In the {idioms.find(({ id }) => id === learnt.document.idiom)?.title.toLowerCase()}:{" "}
            {learnt.settings.length} settings, {learnt.tables.length} tables,{" "}
            {learnt.profiles.map((p) => `${p.kind} ×${p.count}`).join(", ") || "no profiles"}; {learnt.left.length}{" "}
            lines left over. All types and ranges are guesses.
          </p>
          <div
            className="mt-2 max-h-96 overflow-auto border border-rule"
            tabIndex={0}
            role="region"
            aria-label="Learnt settings"
          >
            <Table
              label="Learnt settings"
              rows={learnt.settings}
              keyOf={({ key }) => key}
              columns={[
                {
                  head: "Setting",
                  look: "key wrap-anywhere",
                  cell: ({ key, scope }) => (
                    <>
                      {key}
                      {scope !== undefined && <span className="text-faded"> · {scope}</span>}
                    </>
                  ),
                },
                { head: "Area", cell: ({ area }) => area },
                { head: "Kind of value", look: "text-sm", cell: ({ type }) => typeText(type) },
                {
                  head: "Default",
                  look: "key",
                  cell: (setting) =>
                    Array.isArray(setting.default) ? setting.default.join(", ") : String(setting.default),
                },
              ]}
            />
          </div>
        </>
      )}
    </Sheet>
  );
}
