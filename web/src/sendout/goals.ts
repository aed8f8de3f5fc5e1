import { useNavigate } from "@tanstack/react-router";
import { useMemo } from "react";
import type { Me } from "~/api/client";
import { useDrafts, useEmbeds, useGalleries, useParking, useRehearsals, useScreens } from "~/api/queries";
import { emptyParking, placeOfThing } from "./things";

/** useSendOutGoals are the things of Send out that one can go to by name: parked ones too, which say so, and what is live. */
export function useSendOutGoals(me: Me) {
  const brand = me.brand;
  const may = me.can.includes("galleries");
  const navigate = useNavigate();
  const galleries = useGalleries(brand, may).data;
  const embeds = useEmbeds(brand, may).data;
  const screens = useScreens(brand, may).data;
  const drafts = useDrafts(brand, may).data;
  const rehearsals = useRehearsals(brand).data;
  const parked = {
    gallery: useParking(brand, "gallery").data ?? emptyParking,
    embed: useParking(brand, "embed").data ?? emptyParking,
    screen: useParking(brand, "screen").data ?? emptyParking,
    draft: useParking(brand, "draft").data ?? emptyParking,
    rehearsal: useParking(brand, "rehearsal").data ?? emptyParking,
  };
  const { gallery, embed, screen, draft, rehearsal } = parked;
  return useMemo(() => {
    const params = { brand };
    const goal = (kind: keyof typeof parked, id: number, name: string, live: boolean, go: () => unknown) => {
      const away = placeOfThing({ gallery, embed, screen, draft, rehearsal }[kind], id).parked;
      return { name, what: [kind, away && "parked", live && "live"].filter(Boolean).join(", "), go: () => void go() };
    };
    return [
      ...(galleries ?? []).map((g) =>
        goal("gallery", g.id, g.title, g.open, () => navigate({ to: "/b/$brand/galleries", params, hash: `gallery-${g.id}` })),
      ),
      ...(embeds ?? []).map((e) => goal("embed", e.id, e.name, e.live, () => navigate({ to: "/b/$brand/embeds", params }))),
      ...(screens ?? []).map((s) => goal("screen", s.id, s.name, !!s.album, () => navigate({ to: "/b/$brand/screens", params }))),
      ...(drafts ?? []).map((d) => goal("draft", d.id, d.name, false, () => navigate({ to: "/b/$brand/dispatches", params }))),
      ...(rehearsals ?? []).map((r) =>
        goal("rehearsal", r.id, r.name, false, () => navigate({ to: "/b/$brand/rehearsals/$id", params: { brand, id: String(r.id) } })),
      ),
    ];
  }, [brand, navigate, galleries, embeds, screens, drafts, rehearsals, gallery, embed, screen, draft, rehearsal]);
}
