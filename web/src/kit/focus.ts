/** toSheet gives the keys back to the sheet. */
export const toSheet = () => document.querySelector<HTMLElement>("[data-sheet]")?.focus({ preventScroll: true });

/** What has keys of its own while it has the focus: the sheet's arrows and Enter are not for it. */
const places = "[data-board], [data-strap], [data-satchel-strip], header, [data-settings]";

/** elsewhere says whether a key belongs to another part of the screen than the sheet. What only scrolls has no arrows of its own: a
 * click beside its buttons goes there too. */
export const elsewhere = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  !!target.closest(places) &&
  !!target.closest("button, a, input, summary, [tabindex='0']:not([data-scrolls])");

/** afterMouse gives the keys back to the sheet after a button was pressed by mouse: whoever has a hand on the mouse did not ask for
 * the keys of the button. Fields, menus and dialogs that took the focus keep it. */
export function afterMouse(event: React.MouseEvent) {
  if (event.detail === 0 || !(event.target as HTMLElement).closest("button, a")) return;
  const place = event.currentTarget;
  setTimeout(() => {
    const now = document.activeElement;
    if (now && place.contains(now) && now.matches("button:not([aria-haspopup]), a")) toSheet();
  });
}

/** walk goes up and down the rows of a place with the arrows; a row is its first button. */
export function walk(event: React.KeyboardEvent<HTMLElement>) {
  if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
  const rows = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-row]")];
  const row = (event.target as HTMLElement).closest("[data-place], [data-album]")?.querySelector<HTMLElement>("[data-row]");
  const next = rows[(row ? rows.indexOf(row) : -1) + (event.key === "ArrowDown" ? 1 : -1)];
  if (!row || !next) return;
  event.preventDefault();
  next.focus();
}
