import type { Word } from "@/shared/words";

/** A word in a sentence, and the way to where it stands. */
export function Explained({
  word,
  title,
  onGo,
  onBack,
}: {
  word: Word;
  title: string;
  onGo: () => void;
  onBack: () => void;
}) {
  return (
    <div className="quick-sum">
      <h2>{word.term}</h2>
      {word.also.length > 0 && <p className="field-help">Also: {word.also.join(", ")}.</p>}
      <p>{word.says}</p>
      {title && (
        <p>
          <button type="button" className="link" onClick={onGo}>
            See it at {title}
          </button>
        </p>
      )}
      <button type="button" className="link" onClick={onBack}>
        Back to the list
      </button>
    </div>
  );
}
