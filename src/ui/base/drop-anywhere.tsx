"use client";

import { useRouter } from "next/navigation";
import { Dialog } from "radix-ui";
import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { BUTTON_LOOK } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";

/** What somebody can bring, and the view that takes it. */
const KINDS = {
  "read-outs": {
    title: "Read-outs of aircraft",
    says: "Each is looked at and filed with its aircraft.",
    view: "/backups/file",
    many: true,
    likely: /\.(txt|log|zip|jsonl?|cfg|ini)$/i,
  },
  document: {
    title: "A document for the catalogue",
    says: "A release, a board, a processor or an idiom.",
    view: "/firmware",
    many: false,
    likely: /\.ya?ml$/i,
  },
  image: {
    title: "A firmware image",
    says: "Intel HEX, S-record, UF2 or raw bytes.",
    view: "/firmware",
    many: false,
    likely: /\.(hex|ihx|srec|s19|mot|uf2|dfu|bin)$/i,
  },
} as const;
export type DroppedKind = keyof typeof KINDS;
const ORDER = Object.keys(KINDS) as DroppedKind[];

interface Brought {
  /** Gives what was brought of a kind, once. */
  readonly take: (kind: DroppedKind) => readonly File[];
  /** Grows each time that something was brought. */
  readonly count: number;
}
const Context = createContext<Brought>({ take: () => [], count: 0 });

/** Takes what was dropped elsewhere and said to be of this kind, when the view opens or while it stands. */
export function useDropped(kind: DroppedKind, onFiles: (files: readonly File[]) => void): void {
  const { take, count } = useContext(Context);
  useEffect(() => {
    const files = take(kind);
    if (files.length > 0) onFiles(files);
  }, [take, count, kind, onFiles]);
}

const holdsFiles = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;

/** Files may be dropped on any view: what they are is asked, and then they are taken to where they belong. */
export function DropAnywhere({
  kinds,
  children,
}: {
  /** What this account may bring. */
  readonly kinds: readonly DroppedKind[];
  readonly children: ReactNode;
}) {
  const router = useRouter();
  const [asked, setAsked] = useState<readonly File[]>([]);
  const [over, setOver] = useState(false);
  const [count, setCount] = useState(0);
  const waiting = useRef<{ readonly kind: DroppedKind; readonly files: readonly File[] }>(undefined);
  useEffect(() => {
    const onOver = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      // without this the browser would leave the page and show the file
      setOver(!event.defaultPrevented);
      event.preventDefault();
    };
    const onLeave = (event: DragEvent) => {
      if (event.relatedTarget === null) setOver(false);
    };
    const onDrop = (event: DragEvent) => {
      setOver(false);
      // a place on the page that takes files has taken them
      if (!holdsFiles(event) || event.defaultPrevented) return;
      event.preventDefault();
      setAsked([...(event.dataTransfer?.files ?? [])]);
    };
    document.addEventListener("dragover", onOver);
    document.addEventListener("dragleave", onLeave);
    document.addEventListener("drop", onDrop);
    return () => {
      document.removeEventListener("dragover", onOver);
      document.removeEventListener("dragleave", onLeave);
      document.removeEventListener("drop", onDrop);
    };
  }, []);
  const brought = useMemo<Brought>(
    () => ({
      count,
      take: (kind) => {
        if (waiting.current?.kind !== kind) return [];
        const { files } = waiting.current;
        waiting.current = undefined;
        return files;
      },
    }),
    [count],
  );
  const answer = (kind: DroppedKind) => {
    waiting.current = { kind, files: asked };
    setAsked([]);
    setCount((n) => n + 1);
    router.push(KINDS[kind].view);
  };
  return (
    <Context value={brought}>
      {children}
      {over && (
        <p className="pointer-events-none fixed inset-x-0 top-0 z-40 border-b-2 border-water bg-water-wash px-6 py-3 font-semibold text-ink">
          Let go: you will be asked what it is.
        </p>
      )}
      <Dialog.Root open={asked.length > 0} onOpenChange={(open) => !open && setAsked([])}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-20 bg-ink/25" />
          <Dialog.Content
            aria-describedby={undefined}
            className="fixed top-[18vh] left-1/2 z-30 max-h-[70vh] w-[min(480px,94vw)] -translate-x-1/2 overflow-auto border border-ink bg-sheet p-5 text-ink"
          >
            <Dialog.Title className="mb-1">{asked.length === 1 ? "What is this?" : "What are these?"}</Dialog.Title>
            <p className="mb-3 text-sm wrap-anywhere text-faded">
              {asked
                .slice(0, 6)
                .map((file) => file.name)
                .join(", ")}
              {asked.length > 6 && ` and ${asked.length - 6} more`}
            </p>
            <Answers kinds={kinds} files={asked} onAnswer={answer} />
            <Dialog.Close className={`${BUTTON_LOOK.plain} mt-3`}>Nothing, leave it</Dialog.Close>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </Context>
  );
}

function Answers({
  kinds,
  files,
  onAnswer,
}: {
  readonly kinds: readonly DroppedKind[];
  readonly files: readonly File[];
  readonly onAnswer: (kind: DroppedKind) => void;
}) {
  const possible = ORDER.filter((kind) => kinds.includes(kind) && (KINDS[kind].many || files.length === 1));
  const likely = possible.find((kind) => files.every((file) => KINDS[kind].likely.test(file.name)));
  if (possible.length === 0)
    return (
      <p className="text-sm">
        {kinds.length === 0
          ? "You can view. A technician files read-outs."
          : "Documents and images are brought one at a time."}
      </p>
    );
  return (
    <div className="grid gap-2">
      {possible
        .toSorted((a, b) => Number(b === likely) - Number(a === likely))
        .map((kind) => (
          <Press
            key={kind}
            look="bare"
            onClick={() => onAnswer(kind)}
            className={`rounded-base border px-3 py-2 text-left ${kind === likely ? "border-ink" : "border-edge"} hover:bg-paper`}
          >
            <span className="block font-[560]">{KINDS[kind].title}</span>
            <span className="block text-sm text-faded">{KINDS[kind].says}</span>
          </Press>
        ))}
    </div>
  );
}
