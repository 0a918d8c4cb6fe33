import type { Build } from "@/api/client";
import type { components } from "@/../generated/schema";

type Controller = components["schemas"]["Controller"];

/** The build with a profile in a controller's place: what it has in this build stays, its pins are found anew. */
export function withProfile(build: Build, id: string, profile: Controller): Build {
  const controllers = build.controllers?.map((old) =>
    old.id === id
      ? {
          ...profile,
          id,
          sample: false,
          regulator: old.regulator,
          node: old.node,
          libraries: old.libraries,
          devices: old.devices,
        }
      : old,
  );
  const drives = build.drives?.map((d) =>
    d.controller === id ? { ...d, wiring: { ...d.wiring, fixed_pins: [] } } : d,
  );
  return { ...build, controllers, drives };
}
