export * from "./compute";
export * from "./plan";
export * from "./proof";
export * from "./settle";
export * from "./writer";
export * from "./route";
export * from "./reverse";
