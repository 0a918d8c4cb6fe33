import { createElement, lazy, useState, type ComponentType } from "react";

type Module<P> = { default: ComponentType<P> };

/**
 * A part of the screen that is fetched when it is first needed, or before: `fetch` may be called as soon as it is known
 * that it will be. What is there by then is drawn at once: a lazy component shows its stand-in even if its module has
 * come, and React leaves a stand-in standing for 300 ms.
 */
export function ready<P extends object>(load: () => Promise<Module<P>>) {
  let found: ComponentType<P> | null = null;
  const fetch = async () => {
    const module = await load();
    found = module.default;
    return module;
  };
  const Later = lazy(fetch);
  function Ready(props: P) {
    // One of the two for as long as it stands: changing over would lose what it holds.
    const [Shown] = useState<ComponentType<P>>(() => found ?? Later);
    return createElement(Shown, props);
  }
  return { Ready, fetch: () => void fetch().catch(() => undefined) };
}
