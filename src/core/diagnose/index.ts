export * from "@/core/diagnose/causes";
export * from "@/core/diagnose/diagnose";
export * from "@/core/diagnose/rescued";
