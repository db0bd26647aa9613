"use client";

import { useRouter } from "next/navigation";
import type { BayLive } from "@/core/job/live";
import { AskButton } from "@/ui/base/ask";
import { Facts, Sheet } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import type { PortSeen } from "@/contracts/answers/live";

const STATES: Readonly<Record<NonNullable<BayLive["line"]>["state"], string>> = {
  absent: "not there now",
  held: "held by another program",
  refused: "cannot be opened",
  asked: "open, being asked",
  silent: "open, nothing answers",
  open: "open",
};

interface SocketChoiceProps {
  readonly no: number;
  readonly ports: readonly PortSeen[];
  readonly line: BayLive["line"];
}

/** What a bay is: the simulated socket, or a serial port of the machine that the bench runs on. */
export function SocketChoice({ no, ports, line }: SocketChoiceProps) {
  const router = useRouter();
  const path = `/api/bench/${no}` as const;
  if (line)
    return (
      <Sheet label="Socket" className="px-4 py-3.5">
        <h2 className="mb-2">A serial port</h2>
        <Facts
          facts={[
            [
              "Port",
              <span key="port" className="break-all">
                {line.path}
              </span>,
            ],
            ["State", STATES[line.state]],
            ...(line.why === undefined ? [] : [["The system says", line.why] as const]),
          ]}
        />
        <div className="mt-3">
          <AskButton path={path} body={{ kind: "use-port", path: null }}>
            Let go of this port
          </AskButton>
        </div>
      </Sheet>
    );
  return (
    <Sheet label="Socket" className="px-4 py-3.5">
      <h2>Serial ports</h2>
      <p className="mt-0.5 mb-2 text-sm text-faded">
        This bay is a simulated socket. It can be a port of the machine that the bench runs on instead.
      </p>
      {ports.length === 0 ? (
        <p className="text-sm">The machine has no serial port now.</p>
      ) : (
        <ul className="grid">
          {ports.map((port) => (
            <li key={port.path} className="grid justify-items-start gap-1 border-b border-rule py-2 last:border-0">
              <span className="text-sm break-all">{port.path}</span>
              <span className="text-[13px] text-faded">{[port.says, port.usb].filter(Boolean).join(" · ")}</span>
              <AskButton path={path} body={{ kind: "use-port", path: port.path }}>
                Use {port.path.split("/").at(-1)}
              </AskButton>
            </li>
          ))}
        </ul>
      )}
      <Press className="mt-2" onClick={() => router.refresh()}>
        Look again
      </Press>
    </Sheet>
  );
}
