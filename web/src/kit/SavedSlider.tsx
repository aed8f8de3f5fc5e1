import { useState } from "react";
import { Slider } from "./Slider";

/** SavedSlider is a slider that saves when it is let go. */
export function SavedSlider(p: {
  label: string;
  from: number;
  to: number;
  neutral: number;
  value: number;
  onSet: (value: number) => void;
}) {
  const [moving, setMoving] = useState<number>();
  return (
    <Slider
      {...p}
      step={1}
      value={moving ?? p.value}
      onMove={setMoving}
      onSet={(value) => {
        setMoving(undefined);
        p.onSet(value);
      }}
    />
  );
}
