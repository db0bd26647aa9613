import { attitude } from "@/core/checks/kinds/attitude";
import { level } from "@/core/checks/kinds/level";
import { receiver } from "@/core/checks/kinds/receiver";
import { levers } from "@/core/checks/kinds/levers";
import { arms } from "@/core/checks/kinds/arms";
import { answer } from "@/core/checks/kinds/answer";
import { battery } from "@/core/checks/kinds/battery";
import { failsafe } from "@/core/checks/kinds/failsafe";
import { load } from "@/core/checks/kinds/load";
import { limits } from "@/core/checks/kinds/limits";
import { hover } from "@/core/checks/kinds/hover";

/** What can be shown of an aircraft, in the order in which it is done at a bench; the last one in the open. */
export const CHECK_KINDS = [
  attitude,
  level,
  receiver,
  levers,
  arms,
  answer,
  battery,
  failsafe,
  load,
  limits,
  hover,
] as const;
