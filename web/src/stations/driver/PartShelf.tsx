import { useQuery } from "@tanstack/react-query";
import { api, take } from "@/api/client";
import type { components } from "@/../generated/schema";
import { Shelf } from "@/shared/shelf/Shelf";
import type { Source } from "@/shared/shelf/source";

type Part = components["schemas"]["DriverPart"];

const DRIVERS: Source = {
  title: "Driver parts on the shelf",
  one: "a part",
  blank: { id: "new" },
  check: (part) => take(api.POST("/api/parts/check", { body: part as Part })),
  add: (part) => take(api.POST("/api/parts", { body: part as Part })),
  correct: (id, part) =>
    take(api.PUT("/api/parts/{part_id}", { params: { path: { part_id: id } }, body: part as Part })),
  drop: (id) => take(api.DELETE("/api/parts/{part_id}", { params: { path: { part_id: id } } })),
  importAddress: (kind, keepGood) => `/api/parts/import?format=${kind}&keep_good=${keepGood}`,
  exportAddress: (kind) => `/api/parts/export?format=${kind}`,
  file: "parts",
  traced: true,
};

/** The shelf of driver parts. */
export function PartShelf({ onClose }: { onClose: () => void }) {
  const parts = useQuery({ queryKey: ["parts"], queryFn: () => take(api.GET("/api/parts")) });
  return <Shelf source={DRIVERS} parts={parts.data} queryKey={["parts"]} onClose={onClose} />;
}
