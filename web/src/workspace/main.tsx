import "~/kit/tokens.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { RouterProvider } from "@tanstack/react-router";
import { createRoot } from "react-dom/client";
import { queries } from "~/api/queries";
import { applyTheme } from "~/kit/settings";
import { router } from "./App";

applyTheme();
createRoot(document.getElementById("app")!).render(
  <QueryClientProvider client={queries}>
    <RouterProvider router={router} />
  </QueryClientProvider>,
);
