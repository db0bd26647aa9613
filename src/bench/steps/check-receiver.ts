import { RECEIVER_ASKS } from "@/core/checks";
import { runAsks } from "@/bench/steps/run-asks";

export const checkReceiver = runAsks(RECEIVER_ASKS, "All four sticks reach both ends:");
