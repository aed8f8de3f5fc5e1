import { create } from "zustand";

/** What one sees and does on the picture that is prepared. */
interface Mode {
  /** The frame is at work: the whole picture with what the crop leaves, or a line along what should be level. */
  framing?: "crop" | "line";
  /** Width by height that the crop keeps; undefined is free. */
  proportion?: number;
  /** The next click says what is grey. */
  grey?: boolean;
  /** The next click puts a red eye. */
  eye?: boolean;
  /** As it was before, instead of as it is, or beside it. */
  before?: boolean;
  beside?: boolean;
  /** Show what is lost at either end of brightness. */
  lost?: boolean;
  /** The moment of a clip that is seen, in seconds of its file; undefined is the one that stands for it. */
  moment?: number;
  /** The clip plays as it goes out. */
  playing?: boolean;
  /** The output size in which it is looked at. */
  size?: number;
}

export const useMode = create<Mode>(() => ({}));
export const setMode = (part: Partial<Mode>) => useMode.setState(part);
export const plainMode = () => useMode.setState({}, true);
