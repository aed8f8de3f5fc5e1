import type { Schema } from "~/api/client";

/** How the consent of somebody can stand, as one reads it. */
export const consentNames: Record<Schema["Consent"], string> = {
  open: "not asked yet",
  given: "agrees to be shown",
  refused: "does not agree",
  ended: "agreed, until a day that is over",
};
