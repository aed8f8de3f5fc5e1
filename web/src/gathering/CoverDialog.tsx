import { ImageUp } from "lucide-react";
import { useRef, useState } from "react";
import { mediaAddress, messageOf, type Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { coverAlbum, ownCover } from "./acts";

/** CoverDialog gives an album a picture file as its cover, or lets one be found among its items. */
export function CoverDialog({ brand, album, onClose }: { brand: string; album: Schema["Album"]; onClose: () => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string>();
  const send = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    setProblem(undefined);
    try {
      await ownCover(brand, album.id, file);
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
      setBusy(false);
    }
  };
  return (
    <Dialog
      title={`The cover of “${album.name}”`}
      about={
        "A picture file of its own stands for the album and is not brought into the library. To choose one of its items, " +
        "open the album, select the item, and choose “Make it the cover”."
      }
      onClose={onClose}
    >
      {album.cover && (
        <img alt={album.cover.alt} src={mediaAddress(brand, album.cover, "small")} className="mb-3 max-h-40 rounded-patch object-contain" />
      )}
      {problem && (
        <p role="alert" className="mb-3 text-tomato">
          {problem}
        </p>
      )}
      <span className="flex flex-wrap gap-2">
        <Button tone="main" icon={<ImageUp size={16} />} disabled={busy} onClick={() => input.current?.click()}>
          {busy ? "Sending…" : "Choose a picture file"}
        </Button>
        <Button
          onClick={() => {
            onClose();
            void coverAlbum(brand, album.id, 0);
          }}
        >
          Take the first item
        </Button>
      </span>
      <input
        ref={input}
        type="file"
        hidden
        accept="image/*"
        aria-label="Picture file for the cover"
        onChange={(e) => {
          void send(e.target.files?.[0]);
          e.target.value = "";
        }}
      />
    </Dialog>
  );
}
