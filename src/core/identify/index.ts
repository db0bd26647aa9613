export * from "@/core/identify/candidate";
export * from "@/core/identify/clue";
export * from "@/core/identify/kinds";
export * from "@/core/identify/nearest";
export * from "@/core/identify/pad-sheet";
export * from "@/core/identify/question";
export * from "@/core/identify/rank";
export * from "@/core/identify/signs";
