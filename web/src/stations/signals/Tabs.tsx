import { useId, type KeyboardEvent, type ReactNode } from "react";

export type Page = { key: string; label: string; content: () => ReactNode };

/** Pages behind tabs; arrow keys go from one to the next. */
export function Tabs({ pages, at, onGo }: { pages: Page[]; at: string; onGo: (key: string) => void }) {
  const id = useId();
  const index = Math.max(
    pages.findIndex((p) => p.key === at),
    0,
  );
  const step = (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (!by) return;
    event.preventDefault();
    const next = (index + by + pages.length) % pages.length;
    onGo(pages[next]!.key);
    event.currentTarget.querySelectorAll<HTMLElement>("[role=tab]")[next]?.focus();
  };
  return (
    <>
      <div className="tabs" role="tablist" aria-label="What to look at" onKeyDown={step}>
        {pages.map((p, i) => (
          <button
            key={p.key}
            type="button"
            role="tab"
            id={`${id}-${p.key}`}
            aria-selected={i === index}
            aria-controls={`${id}-page`}
            tabIndex={i === index ? 0 : -1}
            onClick={() => onGo(p.key)}
          >
            {p.label}
          </button>
        ))}
      </div>
      <div role="tabpanel" id={`${id}-page`} aria-labelledby={`${id}-${pages[index]!.key}`}>
        {pages[index]!.content()}
      </div>
    </>
  );
}
