export const ROLES = ["observer", "technician", "lead"] as const;
export type Role = (typeof ROLES)[number];

/** Each role may do what the ones before it may. */
export const mayActAs = (role: Role, needed: Role): boolean => ROLES.indexOf(role) >= ROLES.indexOf(needed);
