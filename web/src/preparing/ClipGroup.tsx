import { Image, Play } from "lucide-react";
import { useState } from "react";
import { Button } from "~/kit/Button";
import { Switch, TextField } from "~/kit/Field";
import { useKeys } from "~/kit/keys";
import { warn } from "~/kit/notes";
import { moment, momentIn, posterOf, spanOf, trimmed, withFilm } from "./film";
import { Fold } from "./Fold";
import { setMode, useMode } from "./mode";
import type { Recipe } from "./acts";
import { settle, useWork } from "./working";

type Work = NonNullable<ReturnType<typeof useWork.getState>["work"]>;

/** ClipGroup trims a clip, says what becomes of its sound, and chooses what stands for it. */
export function ClipGroup({ work, seconds }: { work: Work; seconds: number }) {
  const film = work.recipe.film ?? {};
  const { from, to } = spanOf(work.recipe, seconds);
  const { moment: seen, playing } = useMode();
  const at = seen ?? posterOf(work.recipe, seconds);
  const changed = [film.from || film.to, film.mute, film.level, film.poster].filter(Boolean).length;
  const now = () => useWork.getState().work?.recipe ?? work.recipe;
  const trimAt = (side: "from" | "to") => settle(trimmed(now(), seconds, side, at), "trimming");
  const setPoster = () => settle(withFilm(now(), { poster: Math.round(at * 100) / 100 }), "the poster");
  const mute = () => settle(withFilm(now(), { mute: !now().film?.mute }), now().film?.mute ? "putting the sound back" : "muting");
  useKeys("Clip", [
    { press: "s", does: "let it start at the moment that is seen", run: () => trimAt("from") },
    { press: "h", does: "let it end there", run: () => trimAt("to") },
    { press: "p", does: "play it as it goes out, or stop", run: () => setMode({ playing: !useMode.getState().playing }) },
    { press: "q", does: "make it quiet, or put the sound back", run: mute },
  ]);
  return (
    <Fold name="Clip" changed={changed} onBack={() => settle(withoutFilm(work.settled), "putting the clip back")}>
      <Button className="w-full" icon={<Play size={16} />} aria-pressed={!!playing} onClick={() => setMode({ playing: !playing })}>
        {playing ? "Stop" : "Play it as it goes out"}
      </Button>
      <div className="grid grid-cols-2 gap-1.5">
        <Moment label="Begins at" at={from} onSet={(n) => settle(trimmed(now(), seconds, "from", n), "trimming")} />
        <Moment label="Ends at" at={to} onSet={(n) => settle(trimmed(now(), seconds, "to", n), "trimming")} />
        <Button onClick={() => trimAt("from")}>Start here</Button>
        <Button onClick={() => trimAt("to")}>End here</Button>
      </div>
      <Button className="w-full" icon={<Image size={16} />} onClick={setPoster}>
        Let this moment stand for it
      </Button>
      <Switch label="Without sound" checked={!!film.mute} onChange={mute} />
      {!film.mute && (
        <Switch
          label="Sound as loud as usual on the web, −14 LUFS"
          checked={!!film.level}
          onChange={(on) => settle(withFilm(now(), { level: on }), on ? "levelling the sound" : "putting the level back")}
        />
      )}
    </Fold>
  );
}

function withoutFilm(r: Recipe): Recipe {
  const rest = { ...r };
  delete rest.film;
  return rest;
}

/** Moment is a moment that can be typed. */
function Moment({ label, at, onSet }: { label: string; at: number; onSet: (at: number) => void }) {
  const [typed, setTyped] = useState<string>();
  const enter = () => {
    if (typed === undefined) return;
    setTyped(undefined);
    const n = momentIn(typed);
    if (n === undefined) warn(`“${typed}” is no moment. Write seconds, or minutes and seconds as in 1:07.5.`);
    else onSet(n);
  };
  return (
    <TextField
      label={label}
      value={typed ?? moment(at)}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={enter}
      onKeyDown={(e) => {
        if (e.key === "Enter") enter();
        if (e.key === "Escape" && typed !== undefined) {
          e.stopPropagation();
          setTyped(undefined);
        }
      }}
    />
  );
}
