import "~/kit/tokens.css";
import "./gallery.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { Asking } from "~/api/asking";
import { Tips } from "~/kit/IconButton";
import { applyTheme } from "~/kit/settings";
import { GuestPage } from "./GuestPage";

applyTheme();
createRoot(document.getElementById("app")!).render(
  <QueryClientProvider client={new Asking()}>
    <Tips>
      <GuestPage code={window.location.pathname.split("/")[2] ?? ""} />
    </Tips>
  </QueryClientProvider>,
);
