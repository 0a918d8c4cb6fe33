import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Donor } from "./Donor";
import { Shelf } from "./Shelf";
import type { Source } from "./source";

type Kind = components["schemas"]["ComponentClass"]["kind"];
type Body = NonNullable<Parameters<typeof check>[0]>;
const check = (part: components["schemas"]["Mosfet"]) => take(api.POST("/api/components/check", { body: part }));

const ONE: Record<Kind, string> = {
  mosfet: "a MOSFET",
  bjt: "a bipolar transistor",
  module: "a module",
  "gate driver": "a gate driver",
  relay: "a relay",
  diode: "a diode",
  capacitor: "a capacitor",
  fuse: "a fuse",
  "heat sink": "a heat sink",
  regulator: "a regulator",
};

function sourceOf(kind: Kind, label: string): Source {
  const word = encodeURIComponent(kind);
  return {
    title: `${label} on the shelf`,
    one: ONE[kind],
    blank: { id: "new", kind },
    check: (part) => check(part as Body),
    add: (part) => take(api.POST("/api/components", { body: part as Body })),
    correct: (id, part) =>
      take(api.PUT("/api/components/{component_id}", { params: { path: { component_id: id } }, body: part as Body })),
    drop: (id) =>
      take(
        api.DELETE("/api/components/{component_id}", {
          params: { path: { component_id: id }, query: { class: kind } },
        }),
      ),
    importAddress: (form, keepGood) => `/api/components/import?class=${word}&format=${form}&keep_good=${keepGood}`,
    exportAddress: (form) => `/api/components/export?class=${word}&format=${form}`,
    file: label.toLowerCase().replaceAll(" ", "-"),
    traced: kind !== "regulator" && kind !== "capacitor",
  };
}

/** The shelf of components, a class at a time. */
export function ComponentShelf({ onClose, start = "mosfet" }: { onClose: () => void; start?: Kind }) {
  const [kind, setKind] = useState<Kind>(start);
  const classes = useQuery({
    queryKey: ["components", "classes"],
    queryFn: () => take(api.GET("/api/components/classes")),
  });
  const all = useQuery({ queryKey: ["components"], queryFn: () => take(api.GET("/api/components")) });
  const label = classes.data?.find((c) => c.kind === kind)?.label ?? "Components";
  const source = useMemo(() => sourceOf(kind, label), [kind, label]);
  return (
    <Shelf source={source} parts={all.data?.filter((p) => p.kind === kind)} queryKey={["components"]} onClose={onClose}>
      {(begin) => (
        <>
          <p>
            <label className="shelf-class">
              Class{" "}
              <select className="field-choice" value={kind} onChange={(e) => setKind(e.target.value as Kind)}>
                {classes.data?.map((c) => (
                  <option key={c.kind} value={c.kind}>
                    {c.label} ({c.count})
                  </option>
                ))}
              </select>
            </label>
          </p>
          {kind === "mosfet" && <Donor onRead={begin} />}
        </>
      )}
    </Shelf>
  );
}
