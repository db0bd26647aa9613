import { RECEIVER_ASKS } from "@/core/checks";
import { runAsks } from "@/bench/steps/run-asks";

export const checkReceiver = runAsks({ asks: RECEIVER_ASKS, proves: "All four sticks reach both ends:" });
