import { useEffect, useRef, type ReactNode } from "react";
import { create } from "zustand";
import type { Step } from "./place";

/** An offer is something that can be done now with the selection, or with the place that is open. */
export interface Offer {
  label: string;
  icon?: ReactNode;
  danger?: boolean;
  /** The steps on which it comes first, as a button; elsewhere it is under More. */
  first?: Step[];
  /** It is offered while nothing is selected, too. */
  always?: boolean;
  run: () => void;
}

interface Offered {
  owner: string;
  offers: Offer[];
}

const useOffered = create<{ all: Offered[] }>(() => ({ all: [] }));

/** useOffers lists what can be done now, part by part. */
export const useOffers = () => useOffered((s) => s.all);

/** useOffer puts what can be done into the one bar that never scrolls away, while the calling part is on the screen. */
export function useOffer(owner: string, offers: Offer[]) {
  const latest = useRef(offers);
  useEffect(() => {
    latest.current = offers;
  });
  const signature = JSON.stringify(offers.map((o) => [o.label, o.danger, o.first, o.always]));
  useEffect(() => {
    const entry = { owner, offers: latest.current.map((o, i) => ({ ...o, run: () => latest.current[i]?.run() })) };
    useOffered.setState((s) => ({ all: [...s.all.filter((e) => e.owner !== owner), entry] }));
    return () => useOffered.setState((s) => ({ all: s.all.filter((e) => e !== entry) }));
  }, [owner, signature]);
}
