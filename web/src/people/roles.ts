import type { Schema } from "~/api/client";

/** The roles in words; what each may do is decided by the server. */
export const roles: { value: Schema["Role"]; label: string; about: string }[] = [
  { value: "steward", label: "steward", about: "everything, with people, brands and emptying the bin" },
  { value: "coordinator", label: "coordinator", about: "everything about media, but not people or settings" },
  { value: "contributor", label: "contributor", about: "looks everywhere; files and changes only where granted" },
  { value: "reviewer", label: "reviewer", about: "looks, stars and keeps; changes nothing else" },
  { value: "associate", label: "associate", about: "sees and does only what is granted" },
];
