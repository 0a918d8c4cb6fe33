import Button from "@mui/material/Button";
import { transfer } from "@/api/client";
import { Problem, useAttempt } from "@/shared/attempt";
import { saveBlob } from "@/shared/files";
import { useShell } from "@/draft/context";

/** The disc as a file to print: to cut along, or as a mask for a film. */
export function Print() {
  const { draft, drive } = useShell();
  const { problem, attempt } = useAttempt();
  const save = (film: boolean) =>
    attempt(async () => {
      const got = await transfer("/api/encoder/disc", {
        method: "POST",
        body: JSON.stringify({ build: draft.draft, drive, film }),
        headers: { "content-type": "application/json" },
      });
      saveBlob(film ? "disc-film.svg" : "disc.svg", await got.blob());
    });
  return (
    <section aria-label="Print the disc">
      <p className="button-row">
        <Button size="small" variant="outlined" onClick={() => void save(false)}>
          Save it to cut out
        </Button>
        <Button size="small" variant="outlined" onClick={() => void save(true)}>
          Save the mask for a film
        </Button>
      </p>
      <p className="field-help">SVG in its true size: print at 100 % and measure the bar of 50 mm before you cut.</p>
      <Problem>{problem}</Problem>
    </section>
  );
}
