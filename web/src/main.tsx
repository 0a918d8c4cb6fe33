import "@fontsource-variable/atkinson-hyperlegible-next/index.css";
import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import "./shared/base.css";
import "./shared/fields.css";
import "./shared/pictures.css";
import "./shared/shared.css";
import { PhoneGate } from "./phone/PhoneGate";
import { FirstPage } from "./first/FirstPage";
import { Across } from "./home/Across";
import { Home } from "./home/Home";
import { Frame } from "./shell/Frame";
import { theme } from "./shell/theme";
import { ShowPage } from "./show/ShowPage";

// ./zw dev --trace opens the page so: where the time of each keystroke goes, told on the page.
if (new URLSearchParams(window.location.search).has("trace"))
  void import("./shell/trace").then(({ beginTrace }) => beginTrace());

const queries = new QueryClient({ defaultOptions: { queries: { retry: false, refetchOnWindowFocus: true } } });

createRoot(document.getElementById("root") as HTMLElement).render(
  <StrictMode>
    <ThemeProvider theme={theme} defaultMode="system">
      <CssBaseline />
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <PhoneGate>
            <Routes>
              <Route path="/" element={<Home />} />
              <Route path="/across" element={<Across />} />
              <Route path="/new" element={<FirstPage />} />
              <Route path="/b/:build/show" element={<ShowPage />} />
              <Route path="/b/:build/:station?" element={<Frame />} />
              <Route path="*" element={<Navigate to="/" replace />} />
            </Routes>
          </PhoneGate>
        </BrowserRouter>
      </QueryClientProvider>
    </ThemeProvider>
  </StrictMode>,
);
