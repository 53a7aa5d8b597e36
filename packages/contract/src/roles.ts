export const ROLES = ['reader', 'clerk', 'analyst', 'owner'] as const;

/** What a person may do in a workbook; each may all that those before it may. */
export type Role = (typeof ROLES)[number];

export function mayAs(role: Role, needed: Role): boolean {
  return ROLES.indexOf(role) >= ROLES.indexOf(needed);
}
