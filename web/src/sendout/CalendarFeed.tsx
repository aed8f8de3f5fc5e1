import { useState } from "react";
import { messageOf } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { copyText } from "~/kit/notes";
import { endCalendarFeed, makeCalendarFeed } from "./acts";

/** CalendarFeed gives somebody an address of their own at which calendar programs read what goes out. */
export function CalendarFeed({ brand, onClose }: { brand: string; onClose: () => void }) {
  const [address, setAddress] = useState<string>();
  const [problem, setProblem] = useState<string>();
  const make = async () => {
    try {
      setAddress(await makeCalendarFeed(brand));
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog
      title="Subscribe to the calendar"
      about="Calendar programs read it at an address of your own (iCalendar). Whoever has the address sees the dispatches too."
      onClose={onClose}
    >
      <div className="space-y-3" data-calendar-feed>
        {problem && (
          <p role="alert" className="text-tomato">
            {problem}
          </p>
        )}
        {address && <p className="rounded-patch bg-sunk p-2 break-all">{address}</p>}
        <div className="flex flex-wrap gap-2">
          {address ? (
            <Button tone="strap" onClick={() => void copyText(address, "the address")}>
              Copy it
            </Button>
          ) : (
            <Button tone="strap" onClick={() => void make()}>
              Make my address
            </Button>
          )}
          <Button
            tone="quiet"
            onClick={() => {
              void endCalendarFeed(brand);
              onClose();
            }}
          >
            End the one I have
          </Button>
        </div>
        <p className="text-small text-ink-soft">A new address ends the one before.</p>
      </div>
    </Dialog>
  );
}
