import type { Me, SheetQuery } from "~/api/client";
import { useAlbums, useFolders } from "~/api/queries";
import { Button } from "~/kit/Button";
import { items } from "~/kit/words";
import { conditionOf, wordsOf } from "~/sheet/filters";
import { Missed } from "~/sheet/Missed";
import { type Place, useBrand, useGo } from "~/sheet/place";

/** Empty says what belongs in a place where there is nothing, and offers the first step. */
export function Empty({ place, query, me }: { place: Place; query: SheetQuery; me: Me }) {
  const brand = useBrand();
  const { goTo, change, goToStep } = useGo();
  const folder = useFolders(brand).data?.find((f) => place.place === "folder" && f.id === place.id);
  const below = place.below ? 0 : (folder?.below ?? 0);
  const albums = useAlbums(me.brand).data;
  const mayBringIn = me.can.includes("bring_in");
  const mayHere = folder?.may.includes("bring_in");
  const words = wordsOf(place.filter);
  if (place.filter)
    return (
      <Nothing
        text={
          words
            ? `Nothing here matches “${words}”.`
            : conditionOf(place.filter, "keeper")
              ? "No keepers here yet. Select an item and press K."
              : "Nothing here passes the filters."
        }
      >
        <Missed query={query} />
        <Button onClick={() => change({ filter: undefined })}>Show everything here</Button>
        {place.place !== "everything" && (
          <Button onClick={() => goTo({ place: "everything", filter: place.filter })}>Search the whole library</Button>
        )}
      </Nothing>
    );
  const bring = mayBringIn && <Button onClick={() => goToStep("bring-in")}>Bring in files</Button>;
  switch (place.place) {
    case "unfiled":
      return <Nothing text="Nothing is unfiled. Everything has its place." />;
    case "bin":
      return <Nothing text="The bin is empty. What is put here stays for 60 days and can be put back." />;
    case "undescribed":
      return <Nothing text="Nothing lacks what the brand asks for. Well described." />;
    case "unchosen":
      return <Nothing text="Everything has been looked through." />;
    case "album":
      if (albums?.find((a) => a.id === place.id)?.rule)
        return <Nothing text="Nothing is what the rule of this album asks for now. It fills itself as soon as something is." />;
      return (
        <Nothing
          text={me.can.includes("gather") ? "This album is empty. Drag items onto it, or select some and press G." : "This album is empty."}
        />
      );
    case "folder":
      if (below > 0)
        return (
          <Nothing text={`Nothing directly in this folder. ${items(below)} ${below === 1 ? "is" : "are"} in its subfolders.`}>
            <Button onClick={() => change({ below: true })}>Show what is below</Button>
            {mayHere && bring}
          </Nothing>
        );
      return (
        <Nothing
          text={mayHere ? "This folder is empty. Drag items onto it, or drop files here to bring them in." : "This folder is empty."}
        >
          {mayHere && bring}
        </Nothing>
      );
    case "intake":
      return <Nothing text="Nothing of this intake was added, or it has been moved to the bin." />;
    case "everything":
      return (
        <Nothing text={mayBringIn ? "The library is empty. Drop the first files here." : "There is nothing here for you yet."}>
          {bring}
        </Nothing>
      );
  }
}

function Nothing({ text, children }: { text: string; children?: React.ReactNode }) {
  return (
    <div className="max-w-md text-center">
      <p className="mb-3 text-base">{text}</p>
      <div className="flex flex-wrap justify-center gap-2">{children}</div>
    </div>
  );
}
