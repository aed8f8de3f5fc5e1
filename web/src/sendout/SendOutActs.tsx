import { Drama, Images, Link2, Megaphone, Stamp, Undo2 } from "lucide-react";
import { later } from "~/kit/later";
import { useState } from "react";
import { messageOf, type Me, type Selection } from "~/api/client";
import { useLogos, useSendingCheck } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { copyText, tell } from "~/kit/notes";
import { items } from "~/kit/words";
import { LeavingCheck } from "~/sheet/LeavingCheck";
import { useCarrying } from "~/satchel/carrying";
import { useOffer } from "~/sheet/offers";
import { useBrand } from "~/sheet/place";
import { asSelection, useCount, useOnlySelected } from "~/sheet/selection";
import { makePublic, setLogos } from "./acts";

const DispatchDialog = later(async () => (await import("./DispatchDialog")).DispatchDialog);
const SelectionGalleryDialog = later(async () => (await import("./GalleryDialogs")).SelectionGalleryDialog);
const RehearseDialog = later(async () => (await import("./RehearseDialog")).RehearseDialog);
const TakeBackDialog = later(async () => (await import("./TakeBackDialog")).TakeBackDialog);

type Asked = "addresses" | "gallery" | "pages" | "back" | "rehearsal";

/** SendOutActs offers, on every step, to give items addresses that anybody can open. */
export function SendOutActs({ me }: { me: Me }) {
  const brand = useBrand();
  const count = useCount();
  const [asked, setAsked] = useState<{ selection: Selection; count: number; what: Asked }>();
  const one = useOnlySelected();
  const logos = useLogos(brand).data ?? [];
  const isLogo = one !== undefined && logos.some((l) => l.id === one);
  const logoActs =
    one === undefined
      ? []
      : [
          {
            label: isLogo ? "Not a logo of the brand any more" : "Use it as a logo of the brand",
            icon: <Stamp size={16} />,
            run: () => void setLogos(brand, asSelection(), !isLogo),
          },
        ];
  useOffer(
    "Public addresses",
    me.can.includes("galleries")
      ? [
          {
            label: count === 1 ? "Copy a public address…" : `Copy ${count.toLocaleString("en-GB")} public addresses…`,
            icon: <Link2 size={16} />,
            run: () => setAsked({ selection: asSelection(), count, what: "addresses" }),
          },
          {
            label: count === 1 ? "Send it to pages…" : `Send ${count.toLocaleString("en-GB")} to pages…`,
            icon: <Megaphone size={16} />,
            run: () => setAsked({ selection: asSelection(), count, what: "pages" }),
          },
          {
            label: count === 1 ? "Try it out as a post…" : `Try ${count.toLocaleString("en-GB")} out as a post…`,
            icon: <Drama size={16} />,
            run: () => setAsked({ selection: asSelection(), count, what: "rehearsal" }),
          },
          {
            label: count === 1 ? "Take it back from every page…" : `Take ${count.toLocaleString("en-GB")} back from every page…`,
            icon: <Undo2 size={16} />,
            run: () => setAsked({ selection: asSelection(), count, what: "back" }),
          },
          {
            label: count === 1 ? "Show it in a gallery…" : `Show ${count.toLocaleString("en-GB")} in a gallery…`,
            icon: <Images size={16} />,
            run: () => setAsked({ selection: asSelection(), count, what: "gallery" }),
          },
          ...logoActs,
        ]
      : [],
  );
  const carried = useCarrying((s) => s.toPages);
  if (carried)
    return (
      <DispatchDialog
        brand={brand}
        selection={carried.selection}
        count={carried.count}
        onClose={() => useCarrying.setState({ toPages: undefined })}
      />
    );
  if (!asked) return null;
  const About = {
    gallery: SelectionGalleryDialog,
    addresses: MakePublicDialog,
    pages: DispatchDialog,
    back: TakeBackDialog,
    rehearsal: RehearseDialog,
  }[asked.what];
  return <About brand={brand} selection={asked.selection} count={asked.count} onClose={() => setAsked(undefined)} />;
}

/** MakePublicDialog says who will be able to open what, before anybody is. */
function MakePublicDialog({
  brand,
  selection,
  count,
  onClose,
}: {
  brand: string;
  selection: Selection;
  count: number;
  onClose: () => void;
}) {
  const check = useSendingCheck(brand, selection).data;
  const [problem, setProblem] = useState<string>();
  const go = async () => {
    try {
      const made = await makePublic(brand, selection);
      const all = made.addresses.map(({ picture: p }) => p.picture.replace("{width}", "medium").replace("{format}", p.formats.at(-1)!));
      onClose();
      tell(made.done.said);
      await copyText(all.join("\n"), all.length === 1 ? "the address" : "the addresses");
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const an = count === 1 ? "the" : "an";
  return (
    <Dialog
      title={count === 1 ? "A public address for this item?" : `Public addresses for ${items(count)}?`}
      about={`Anyone who has ${an} address can open the picture, also in later versions. Originals stay here.`}
      onClose={onClose}
    >
      <div className="space-y-3">
        <LeavingCheck check={check} />
        {problem && (
          <p role="alert" className="text-tomato">
            {problem}
          </p>
        )}
        <Button tone="strap" onClick={() => void go()}>
          Make {count === 1 ? "it" : "them"} public, and copy
        </Button>
      </div>
    </Dialog>
  );
}
