import "~/kit/tokens.css";
import "./gallery.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { createRoot } from "react-dom/client";
import { Asking } from "~/api/asking";
import { applyTheme } from "~/kit/settings";
import { GuestPage } from "./GuestPage";

applyTheme();
createRoot(document.getElementById("app")!).render(
  <QueryClientProvider client={new Asking()}>
    <Tooltip.Provider>
      <GuestPage code={window.location.pathname.split("/")[2] ?? ""} />
    </Tooltip.Provider>
  </QueryClientProvider>,
);
