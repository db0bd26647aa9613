"use client";

import { Table } from "@/ui/base/table";
import { FileButton } from "@/ui/base/file-button";
import { Link } from "@/ui/base/link";
import { useEffect, useState, type ReactNode } from "react";
import { useAsk } from "@/ui/base/ask";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { StateShape } from "@/ui/base/mark";
import { Select } from "@/ui/base/select";
import { TextBox } from "@/ui/base/text-box";

/** What a sheet comes out as; see the server's reading of it. */
export interface ReadSheet {
  readonly title: string;
  readonly pads: readonly { readonly pad: string; readonly wired: string; readonly use: string }[];
  readonly ports: readonly number[];
  readonly refused: readonly { readonly line: number; readonly text: string; readonly why: string }[];
  readonly lacks: readonly string[];
  readonly documents: { readonly board: string; readonly release: string };
  readonly file: string;
}

const EXAMPLE = `board: 
maker: 
printed: 
revision: A
processor: 
gyro: 
usb: 
boot: button and pads
pad: M1; timer: 1 channel 1; default: front left
pad: R1; port: 1 in; default: receiver
`;
const MOST_CHARACTERS = 100_000;
/** The server is asked when somebody stopped typing for so long. */
const PAUSE_MS = 350;

const count = (n: number, one: string) => `${n} ${n === 1 ? one : `${one}s`}`;
const asFile = (text: string) => `data:text/yaml;charset=utf-8,${encodeURIComponent(text)}`;

/** A sheet as text, and beside it what the release makes of it. */
export function SheetReader({
  releases,
  read,
  mayKeep,
}: {
  readonly releases: readonly { readonly id: string; readonly title: string }[];
  readonly read: (asked: { text: string; releaseId: string }) => Promise<ReadSheet>;
  /** Whoever looks may keep documents. */
  readonly mayKeep: boolean;
}) {
  const [text, setText] = useState(EXAMPLE);
  const [releaseId, setReleaseId] = useState(releases.at(-1)?.id ?? "");
  const [found, setFound] = useState<ReadSheet>();
  const [tooLarge, setTooLarge] = useState(false);
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(() => {
      void read({ text, releaseId }).then(
        (sheet) => {
          if (!gone) setFound(sheet);
        },
        () => undefined,
      );
    }, PAUSE_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [text, releaseId, read]);
  return (
    <div className="grid grid-cols-2 items-start gap-5 max-lg:grid-cols-1">
      <Sheet label="The sheet" className="grid gap-2 px-4 py-3.5">
        <div className="flex flex-wrap items-end justify-between gap-3">
          <Select
            label="For release"
            value={releaseId}
            options={releases.map(({ id, title }) => ({ value: id, text: title }))}
            onValue={setReleaseId}
          />
          <div className="grid content-end justify-items-start gap-1 text-sm">
            <FileButton
              onFiles={([file]) => {
                setTooLarge(file !== undefined && file.size > MOST_CHARACTERS);
                if (file && file.size <= MOST_CHARACTERS) void file.text().then(setText);
              }}
            >
              Take a file
            </FileButton>
            {tooLarge && (
              <p role="alert">A pad sheet has at most {MOST_CHARACTERS / 1000} KB; nothing was taken of it.</p>
            )}
          </div>
        </div>
        <TextBox
          label="One line a pad"
          rows={18}
          maxLength={MOST_CHARACTERS}
          spellCheck={false}
          value={text}
          className="key text-[13px]"
          onChange={(event) => setText(event.target.value)}
        />
      </Sheet>
      <div className="grid min-w-0 gap-4" aria-live="polite">
        {found && (
          <Result found={found}>
            {mayKeep ? (
              <Keep key={`${releaseId} ${text}`} text={text} releaseId={releaseId} />
            ) : (
              <p className="text-sm">A lead keeps the board: give a lead these documents.</p>
            )}
          </Result>
        )}
      </div>
    </div>
  );
}

/** Keeps what the sheet comes out as, and leads to the board. */
function Keep({ text, releaseId }: { readonly text: string; readonly releaseId: string }) {
  const { ask, busy, problem } = useAsk();
  const [kept, setKept] = useState<{ board: string; title: string }>();
  return (
    <div className="grid gap-2">
      {kept ? (
        <p role="status" className="text-sm">
          <StateShape shape="disc" /> Kept: <Link href={`/boards/${kept.board}`}>{kept.title}</Link>, and the release
          that is built for it.
        </p>
      ) : (
        <Press
          look="main"
          className="justify-self-start"
          busy={busy}
          onClick={() =>
            void ask<{ board: string; title: string }>("/api/boards/sheet", { text, releaseId }).then(setKept)
          }
        >
          Keep the board and its release
        </Press>
      )}
      {problem && <ProblemNote problem={problem} />}
    </div>
  );
}

function Result({
  found: { title, pads, ports, refused, lacks, documents, file },
  children,
}: {
  readonly found: ReadSheet;
  readonly children: ReactNode;
}) {
  return (
    <>
      <Sheet label="Refused lines" className="px-4 py-3.5">
        <h2>{refused.length === 0 ? "No line is refused." : `${count(refused.length, "line")} left out.`}</h2>
        <ul className="mt-1 grid gap-1 text-sm">
          {refused.map(({ line, text, why }) => (
            <li key={line}>
              <StateShape shape="square" /> Line {line}: {why}. <span className="key text-faded">{text.trim()}</span>
            </li>
          ))}
        </ul>
      </Sheet>
      <Sheet label="What comes of it" className="overflow-x-auto px-4 py-3.5">
        <h2>
          {title === "" ? "A board" : title}: {count(pads.length, "pad")}, {count(ports.length, "port")}.
        </h2>
        {pads.length > 0 && (
          <Table
            className="mt-1"
            rows={pads}
            keyOf={({ pad }) => pad}
            columns={[
              { head: "Pad", look: "key", cell: ({ pad }) => pad },
              { head: "Wired to", cell: ({ wired }) => wired },
              { head: "As delivered", cell: ({ use }) => use || "not known" },
            ]}
          />
        )}
        {lacks.length > 0 ? (
          <p className="mt-2 text-sm">
            <StateShape shape="triangle" /> Not said yet: {lacks.join(", ")}. Without them it cannot be kept.
          </p>
        ) : (
          <div className="mt-3 grid gap-2">
            {children}
            <p className="flex flex-wrap gap-x-5 text-sm">
              <a href={asFile(documents.board)} download={`${file}.board.yaml`}>
                Download the board’s document
              </a>
              <a href={asFile(documents.release)} download={`${file}.release.yaml`}>
                Download the release that builds it
              </a>
            </p>
          </div>
        )}
      </Sheet>
    </>
  );
}
