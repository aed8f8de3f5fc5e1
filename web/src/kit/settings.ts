import { create } from "zustand";
import { persist } from "zustand/middleware";

export type Theme = "as the system" | "light" | "dark";
export type Backdrop = "paper" | "grey" | "night";
/** What becomes of those that one does not keep when comparing. */
export type Others = "aside" | "star less";
/** What is written below a picture of the sheet. */
export type Titles = "nothing" | "title" | "title and date";

interface Settings {
  theme: Theme;
  backdrop: Backdrop;
  rowHeight: number;
  titles: Titles;
  boardWidth: number;
  boardFolded: boolean;
  /** Whether the folders inside an open folder stand before its items. */
  foldersFirst: boolean;
  others: Others;
  /** How long a slide is shown, whether with words, and in which order. */
  slideSeconds: number;
  slideCaptions: boolean;
  slidesShuffled: boolean;
  /** After a verdict on one item the next one comes by itself. */
  goOn: boolean;
  set: (change: Partial<Omit<Settings, "set">>) => void;
}

/** useSettings is how this browser likes its screens; every change is kept at once. */
export const useSettings = create<Settings>()(
  persist(
    (set) => ({
      theme: "as the system",
      backdrop: "paper",
      rowHeight: 150,
      titles: "nothing",
      boardWidth: 340,
      boardFolded: false,
      foldersFirst: true,
      others: "aside",
      slideSeconds: 4,
      slideCaptions: true,
      slidesShuffled: false,
      goOn: false,
      set,
    }),
    { name: "bright-satchel-settings" },
  ),
);

/** applyTheme puts the theme on the page now and whenever it or the system's changes. */
export function applyTheme() {
  const dark = window.matchMedia("(prefers-color-scheme: dark)");
  const apply = () => {
    const theme = useSettings.getState().theme;
    document.documentElement.dataset.theme = theme === "dark" || (theme === "as the system" && dark.matches) ? "dark" : "light";
  };
  apply();
  dark.addEventListener("change", apply);
  useSettings.subscribe(apply);
}
