export * from "./compute";
export * from "./plan";
export * from "./proof";
export * from "./reverse";
export * from "./route";
export * from "./rows";
export * from "./settle";
export * from "./writer";
