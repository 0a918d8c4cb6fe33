import Checkbox from "@mui/material/Checkbox";
import { useTicks } from "@/shared/ticks";

/** A tick that is kept with the build. */
export function Tick({ id, name }: { id: string; name: string }) {
  const ticks = useTicks();
  return (
    <Checkbox
      size="small"
      checked={ticks.has(id)}
      onChange={(e) => ticks.tick([id], e.target.checked)}
      slotProps={{ input: { "aria-label": name } }}
    />
  );
}
