import { FileText } from "lucide-react";
import { useEffect, useState } from "react";
import { mediaAddress, type Schema } from "~/api/client";
import { bytes } from "~/kit/words";
import { only, withCondition } from "~/sheet/filters";
import { useGo } from "~/sheet/place";
import { openBig } from "~/sheet/selection";
import type { Sending } from "./again";
import { goOn, useQueue } from "./queue";
import { decideDuplicate } from "./acts";

type File = Schema["IntakeFile"];

const outcomes: Record<Schema["IntakeFileState"], string> = {
  waiting: "waiting",
  arrived: "being looked at",
  added: "added",
  version: "new version",
  skipped: "skipped",
  refused: "refused",
  cancelled: "cancelled",
  joined: "joined its picture",
};

function progressOf(s: Sending, size: number) {
  switch (s.state) {
    case "reading":
      return "looking whether it is here already";
    case "queued":
      return s.sent ? `waits at ${bytes(s.sent)} of ${bytes(size)}` : "waiting";
    case "stopped":
      return `stopped at ${bytes(s.sent)} of ${bytes(size)}`;
    case "sending":
      return `sending ${bytes(s.sent)} of ${bytes(size)}`;
  }
}

interface FileRowProps {
  brand: string;
  intake: number;
  file: File;
  picked: boolean;
  onPick: (on: boolean) => void;
  onPutBack: (asset: number) => void;
  onTwins: () => void;
  onLeave: () => void;
}

/** FileRow is one file of an intake: its picture, what came of it, and what one can do about that. It is as high whatever came
 * of it, so that no row moves under the pointer. */
export function FileRow({ brand, intake, file, picked, onPick, onPutBack, onTwins, onLeave }: FileRowProps) {
  const sending = useQueue((s) => s.sending.find((x) => x.code === file.code));
  const { goTo } = useGo();
  const decide = (policy: Schema["Policy"]) => void decideDuplicate(brand, intake, file.code, policy);
  const actions: { label: string; run: () => void }[] = [];
  if (file.state === "skipped") {
    if (file.asset && file.assetBinned) actions.push({ label: "Put it back", run: () => onPutBack(file.asset!) });
    actions.push({ label: "Keep both", run: () => decide("keep_both") }, { label: "Make it a new version", run: () => decide("version") });
  }
  if ((file.state === "added" && file.policy === "keep_both") || file.state === "version")
    actions.push({ label: "Skip after all", run: () => decide("skip") });
  if (file.twin) actions.push({ label: "Compare with its possible duplicate", run: onTwins });
  if (sending?.state === "stopped") actions.push({ label: "Go on", run: () => goOn(brand) });
  if (file.asset && !file.assetBinned && file.state !== "joined")
    actions.push({
      label: "Show it",
      run: () => {
        goTo(
          file.state === "skipped"
            ? { place: "everything", filter: withCondition(only("words", { names: [file.assetTitle ?? ""] }), "aside", { missing: true }) }
            : { place: "intake", id: intake },
        );
        if (file.state !== "skipped") openBig(file.asset!);
        onLeave();
      },
    });
  const describable = !file.sidecar && ["waiting", "arrived", "added"].includes(file.state);
  return (
    <li
      className="flex h-15 items-start gap-2 overflow-hidden rounded-patch px-1 py-0.5 hover:bg-sunk"
      data-file={file.name}
      data-state={file.state}
    >
      <input
        type="checkbox"
        aria-label={`Choose ${file.name}`}
        className="mt-3 size-4 shrink-0 accent-sea disabled:opacity-30"
        disabled={!describable}
        checked={picked}
        onChange={(e) => onPick(e.target.checked)}
      />
      <Preview brand={brand} file={file} local={sending?.file} />
      <span className="min-w-0 flex-1">
        <span className="block truncate" title={file.path ? `${file.path}/${file.name}` : file.name}>
          {file.path && <span className="text-ink-soft">{file.path}/</span>}
          {file.name}
        </span>
        <span
          className={`text-small ${file.state === "refused" ? "line-clamp-2 text-tomato" : "line-clamp-1 text-ink-soft"}`}
          title={file.why}
        >
          {sending && file.state === "waiting" ? progressOf(sending, file.bytes) : outcomes[file.state]}
          {file.why ? `. ${file.why}` : ""}
          {file.twin ? ". It looks like something that is here." : ""}
        </span>
        {actions.length > 0 && (
          <span className="flex gap-x-3 overflow-hidden whitespace-nowrap">
            {actions.map((a) => (
              <button
                key={a.label}
                type="button"
                aria-label={`${a.label}: ${file.name}`}
                className="text-small text-sea underline"
                onClick={a.run}
              >
                {a.label}
              </button>
            ))}
          </span>
        )}
      </span>
    </li>
  );
}

function Preview({ brand, file, local }: { brand: string; file: File; local: globalThis.File | undefined }) {
  const there = file.assetCode && file.assetVersion && file.assetKind !== "file";
  const address = useLocalPicture(there ? undefined : local);
  return (
    <span className="grid size-10 shrink-0 place-items-center overflow-hidden rounded bg-sunk text-ink-soft">
      {there ? (
        <img
          alt=""
          loading="lazy"
          src={mediaAddress(brand, { code: file.assetCode!, version: file.assetVersion! }, "small")}
          className="size-full object-cover"
        />
      ) : address ? (
        <img alt="" src={address} className="size-full object-cover" />
      ) : (
        <FileText size={18} />
      )}
    </span>
  );
}

const shownLocally = 12_000_000; // bytes; a larger picture would take longer to show than to send

/** A picture is shown from the browser's own copy while it travels. */
function useLocalPicture(file: globalThis.File | undefined) {
  const [address, setAddress] = useState<string>();
  useEffect(() => {
    if (!file || !/^image\/(jpeg|png|gif|webp|avif)$/.test(file.type) || file.size > shownLocally) return;
    const made = URL.createObjectURL(file);
    setAddress(made);
    return () => {
      setAddress(undefined);
      URL.revokeObjectURL(made);
    };
  }, [file]);
  return address;
}
