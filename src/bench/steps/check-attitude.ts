import { ATTITUDE_ASKS } from "@/core/checks";
import { runAsks } from "@/bench/steps/run-asks";

export const checkAttitude = runAsks(ATTITUDE_ASKS, "All three signs are right:");
