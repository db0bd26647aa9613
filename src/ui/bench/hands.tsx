"use client";

import { useState } from "react";
import { AILMENT_SAYS, type Ailment } from "@/core/sim/ailment-names";
import type { BayLive } from "@/core/job";
import { AskButton, useAsk } from "@/ui/base/ask";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { Tick } from "@/ui/base/tick";

/** Ways to hold the airframe, as they lie on the pad: seen from behind, its nose away from whoever holds it. */
const LEANS = [
  { name: "Nose up", roll: 0, pitch: 30, at: "col-start-2 row-start-1" },
  { name: "Left side down", roll: -30, pitch: 0, at: "col-start-1 row-start-2" },
  { name: "Level", roll: 0, pitch: 0, at: "col-start-2 row-start-2" },
  { name: "Right side down", roll: 30, pitch: 0, at: "col-start-3 row-start-2" },
  { name: "Nose down", roll: 0, pitch: -30, at: "col-start-2 row-start-3" },
] as const;
const TURNS = [
  { name: "Turn anticlockwise", by: 320, at: "col-start-1 row-start-3" },
  { name: "Turn clockwise", by: 40, at: "col-start-3 row-start-3" },
] as const;
const STICKS = ["Roll", "Pitch", "Climb", "Turn"] as const;
const ENDS = [
  ["low", 1000],
  ["middle", 1500],
  ["high", 2000],
] as const;
/** Faults that are on or off; or, with a number, how much of it is on. */
const FAULTS = [
  ["chargeOnlyCable", "The cable only charges"],
  ["swallowLoaderWord", "The console swallows the word for the loader"],
  ["partsSilent", "The plug to its co-processor is loose"],
  ["readProtected", "Its flash is protected against reading"],
  ["staysAway", "Stays away after a restart until it is unplugged"],
  ["wornSector", "A sector of its flash is worn"],
  ["powerCutAfterBytes", "The power goes when 96 KB more are written", 98_304],
  ["stallEvery", "Every 500th transfer of a loader goes wrong", 500],
] as const;

const AILMENTS = Object.entries(AILMENT_SAYS) as [Ailment, string][];

const LAMP = { lit: "its lamp is lit", blinks: "its lamp blinks, over and over", dark: "no lamp is lit" } as const;

interface HandsProps {
  readonly no: number;
  readonly live: BayLive;
}

/** Hands on what feeds a simulated board and leads to it: cable, button, pads, adapter, battery. */
export function CableHands({ no, live }: HandsProps) {
  const path = `/api/bench/${no}` as const;
  const { cable = false, battery = false, secondBattery, adapter = false, hands } = live;
  return (
    <div className="flex flex-wrap gap-2">
      {cable ? (
        <AskButton path={path} body={{ kind: "unplug" }}>
          Pull the cable
        </AskButton>
      ) : (
        <>
          <AskButton path={path} body={{ kind: "plug" }} look="main">
            Plug the cable in
          </AskButton>
          {hands?.bootButton && (
            <AskButton path={path} body={{ kind: "plug", button: true }}>
              Plug in, holding the boot button
            </AskButton>
          )}
          {hands?.bootPads && (
            <AskButton path={path} body={{ kind: "plug", pads: true }}>
              Plug in, boot pads bridged
            </AskButton>
          )}
        </>
      )}
      {hands?.serial && (
        <AskButton path={path} body={{ kind: "adapter", wired: !adapter }}>
          {adapter ? "Take the serial adapter off" : "Wire the serial adapter"}
        </AskButton>
      )}
      <AskButton path={path} body={{ kind: "battery", fitted: !battery }}>
        {battery ? "Take the battery out" : "Fit the battery"}
      </AskButton>
      {secondBattery !== undefined && (
        <AskButton path={path} body={{ kind: "battery", fitted: !secondBattery, which: "second battery" }}>
          {secondBattery ? "Take the second battery out" : "Fit the second battery"}
        </AskButton>
      )}
    </div>
  );
}

/** Hands on a simulated board: what a person would do at the bench. */
export function Hands({ no, live }: HandsProps) {
  return (
    <div className="grid gap-3">
      {live.lamp !== undefined && <p className="text-sm">Who looks at it sees: {LAMP[live.lamp]}.</p>}
      <CableHands no={no} live={live} />
      <Airframe no={no} live={live} />
    </div>
  );
}

const PLACE =
  "min-h-10 w-full rounded-base px-0.5 text-[13px] wrap-anywhere leading-tight hover:bg-paper aria-pressed:bg-ink aria-pressed:text-sheet";

/** Tilting the airframe and moving the sticks. */
export function Airframe({ no, live }: HandsProps) {
  const path = `/api/bench/${no}` as const;
  const { senses } = live;
  if (!senses) return null;
  const { heading } = senses;
  return (
    <div className="flex min-w-0 flex-wrap items-start gap-x-8 gap-y-3 text-sm *:max-w-full">
      <div className="grid w-72 grid-cols-[minmax(0,1fr)] justify-items-start gap-2">
        <div
          className="grid w-full grid-cols-3 grid-rows-3 items-center gap-1 border border-edge bg-sheet p-1.5 *:w-full"
          role="group"
          aria-label="Hold the airframe"
        >
          {LEANS.map(({ name, roll, pitch, at }) => (
            <span key={name} className={`flex *:flex-1 ${at}`}>
              <AskButton
                path={path}
                body={{ kind: "lean", roll, pitch, heading }}
                pressed={senses.roll === roll && senses.pitch === pitch}
                look="bare"
                className={PLACE}
              >
                {name}
              </AskButton>
            </span>
          ))}
          {TURNS.map(({ name, by, at }) => (
            <span key={name} className={`flex *:flex-1 ${at}`}>
              <AskButton
                path={path}
                body={{ kind: "lean", roll: 0, pitch: 0, heading: (heading + by) % 360 }}
                look="bare"
                className={PLACE}
              >
                {name}
              </AskButton>
            </span>
          ))}
        </div>
        <AskButton path={path} body={{ kind: "calibrate" }}>
          Calibrate it, level and still
        </AskButton>
      </div>
      <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-2">
        {STICKS.map((stick, index) => (
          <div key={stick} className="contents">
            <span>{stick} stick</span>
            <span
              className="inline-flex w-fit rounded-full border border-edge bg-sheet p-0.5"
              role="group"
              aria-label={`${stick} stick`}
            >
              {ENDS.map(([end, pulse]) => (
                <AskButton
                  key={end}
                  path={path}
                  body={{ kind: "stick", index, pulse }}
                  pressed={senses.sticks[index] === pulse}
                  look="bare"
                  className="min-h-7 min-w-16 rounded-full px-3 text-[13px] hover:bg-paper aria-pressed:bg-ink aria-pressed:text-sheet max-sm:min-w-0 max-sm:px-1.5"
                  label={`${stick} ${end}`}
                >
                  {end}
                </AskButton>
              ))}
            </span>
          </div>
        ))}
      </div>
    </div>
  );
}

/** What can go wrong at a bench, to be tried out. */
export function FaultSwitches({ no, live }: HandsProps) {
  const { ask, busy, problem } = useAsk();
  const [ailment, setAilment] = useState<Ailment>("half-image");
  return (
    <div className="grid gap-1.5 text-sm">
      {FAULTS.map(([name, say, much = 1]) => (
        <Tick
          key={name}
          label={say}
          checked={Boolean(live.faults?.[name])}
          busy={busy}
          onChecked={(checked) => void ask(`/api/bench/${no}`, { kind: "fault", name, value: checked ? much : 0 })}
        />
      ))}
      <div className="mt-2 grid gap-1.5">
        <Select
          label="What was done to it"
          value={ailment}
          options={AILMENTS.map(([id, say]) => ({ value: id, text: say }))}
          onValue={(next) => setAilment(AILMENTS.find(([id]) => id === next)?.[0] ?? ailment)}
        />
        <Press
          className="justify-self-start"
          busy={busy}
          disabled={live.cable === true || live.battery === true || live.secondBattery === true}
          onClick={() => void ask(`/api/bench/${no}`, { kind: "afflict", ailment })}
        >
          Do that to it, without power
        </Press>
      </div>
      {problem && <ProblemNote problem={problem} />}
    </div>
  );
}

const PACES = [1, 2, 8, 40] as const;

/** How fast the time of simulated boards runs. */
export function Pace({ factor }: { readonly factor: number }) {
  const { ask, busy } = useAsk();
  return (
    <div className="flex flex-wrap gap-1.5" role="group" aria-label="Time of simulated boards">
      {PACES.map((pace) => (
        <Press
          key={pace}
          busy={busy}
          aria-pressed={pace === factor}
          look={pace === factor ? "main" : "plain"}
          onClick={() => void ask("/api/bench/1", { kind: "clock", factor: pace })}
        >
          ×{pace}
        </Press>
      ))}
    </div>
  );
}

export interface Shelved {
  readonly id: number;
  readonly label: string;
  readonly model: string;
}

/** Boards that lie beside the bench. */
export function Shelf({ no, boards }: { readonly no: number; readonly boards: readonly Shelved[] }) {
  // what was picked stays picked while boards come and go beside it
  const [wanted, setPicked] = useState<number>();
  const picked = (boards.find(({ id }) => id === wanted) ?? boards[0])?.id ?? 0;
  if (boards.length === 0) return <p className="text-sm text-faded">Every simulated board is in a bay.</p>;
  return (
    <div className="flex min-w-0 flex-wrap items-start gap-2">
      <Select
        label="Board"
        says="hidden"
        value={String(picked)}
        options={boards.map(({ id, label, model }) => ({
          value: String(id),
          text: label.includes(model) ? label : `${label}, ${model}`,
        }))}
        onValue={(next) => setPicked(Number(next))}
      />
      <AskButton path={`/api/bench/${no}`} body={{ kind: "bring", boardId: picked }} look="main">
        Put it into bay {no}
      </AskButton>
    </div>
  );
}
