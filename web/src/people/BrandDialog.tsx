import { useState } from "react";
import { messageOf } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { TextField } from "~/kit/Field";
import { newBrand } from "./acts";

/** BrandDialog makes a brand and goes there. */
export function BrandDialog({ brand, onClose }: { brand: string; onClose: () => void }) {
  const [name, setName] = useState("");
  const [problem, setProblem] = useState<string>();
  const make = async () => {
    try {
      const made = await newBrand(brand, name);
      window.location.href = `/b/${made.code}`;
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Dialog
      title="Make another brand"
      about="With a library of its own. Nothing of one brand can be reached from another. You are its first steward."
      onClose={onClose}
    >
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          void make();
        }}
      >
        <TextField
          label="Name"
          autoFocus
          value={name}
          problem={problem}
          maxLength={100}
          onChange={(e) => setName(e.target.value)}
          autoComplete="off"
        />
        <Button type="submit" tone="main" disabled={!name.trim()}>
          Make the brand
        </Button>
      </form>
    </Dialog>
  );
}
