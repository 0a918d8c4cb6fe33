import type { PictureOf } from "@/api/client";

type View = PictureOf<"bench">["clips"];

/** Where an oscilloscope's ground clips may go on this build, and where none may. */
export function Clips({ clips }: { clips: View }) {
  return (
    <details className="clips">
      <summary>Where the ground clips may go</summary>
      {clips.says.map((line) => (
        <p key={line} className="field-help">
          {line}
        </p>
      ))}
      <ul className="plain-list">
        {clips.grounds.map((g) => (
          <li key={g.name}>
            <b>{g.name}</b>: {g.places.join("; ")}
          </li>
        ))}
      </ul>
      {clips.never.length > 0 && <p>Never at:</p>}
      <ul className="plain-list">
        {clips.never.map((n) => (
          <li key={n.place} className="verdict-fail">
            ✕ {n.place}: {n.says}
          </li>
        ))}
      </ul>
    </details>
  );
}
