import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, take } from "@/api/client";
import { useShell } from "@/draft/context";

/** Parts that were corrected on the shelf since this build took its copies: offered as a try, and never done unasked. */
export function OfferNotice() {
  const { draft, say, showTries } = useShell();
  const queries = useQueryClient();
  const [away, setAway] = useState(false);
  const build = draft.draft;
  const asked = useQuery({
    queryKey: ["offers", draft.id, draft.version],
    queryFn: () => take(api.POST("/api/offers", { body: { build: build as never } })),
    enabled: build !== null,
    // What was told stands until a newer save is answered for; never that of another build.
    placeholderData: (before, asked) => (asked?.queryKey[1] === draft.id ? before : undefined),
  });
  if (!build || away || draft.trial || !asked.data?.length) return null;
  const one = asked.data.length === 1;
  const tryThem = async () => {
    try {
      const paths = asked.data.map((o) => o.path);
      const made = await take(api.POST("/api/offers/taken", { body: { build, paths } }));
      draft.tryOut("Corrections of the shelf", () => made);
      showTries();
      void queries.invalidateQueries({ queryKey: ["offers"] });
    } catch (error) {
      say((error as Error).message);
    }
  };
  return (
    <Alert
      severity="info"
      className="kept-notice"
      action={
        <>
          <Button onClick={() => void tryThem()}>See what {one ? "it does" : "they do"}</Button>
          <Button onClick={() => setAway(true)}>Not now</Button>
        </>
      }
    >
      Corrected on the shelf since this build took {one ? "its copy" : "its copies"}:{" "}
      {asked.data.map((o) => `${o.name} (${o.words})`).join("; ")}.
    </Alert>
  );
}
