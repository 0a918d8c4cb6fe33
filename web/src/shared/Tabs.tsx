import Tab from "@mui/material/Tab";
import MuiTabs from "@mui/material/Tabs";
import { useId, type ReactNode } from "react";

export type Page = { key: string; label: string; content: () => ReactNode };

/** Pages behind tabs: the arrow keys open the next one at once, since a page costs nothing to open. */
export function Tabs({ pages, at, onGo }: { pages: Page[]; at: string; onGo: (key: string) => void }) {
  const id = useId();
  const here = pages.find((p) => p.key === at) ?? pages[0];
  if (!here) return null;
  return (
    <>
      <MuiTabs
        className="tabs"
        value={here.key}
        onChange={(_, next: string) => onGo(next)}
        variant="scrollable"
        scrollButtons={false}
        selectionFollowsFocus
        aria-label="What to look at"
      >
        {pages.map((p) => (
          <Tab key={p.key} value={p.key} label={p.label} id={`${id}-${p.key}`} aria-controls={`${id}-page`} />
        ))}
      </MuiTabs>
      <div role="tabpanel" id={`${id}-page`} aria-labelledby={`${id}-${here.key}`}>
        {here.content()}
      </div>
    </>
  );
}
