import { useCallback, useState } from "react";

/** Runs what may be refused; the refusal's sentence stands until the next try. */
export function useAttempt() {
  const [problem, setProblem] = useState("");
  const attempt = useCallback(async (act: () => Promise<void>) => {
    setProblem("");
    try {
      await act();
    } catch (error) {
      setProblem((error as Error).message);
    }
  }, []);
  return { problem, attempt };
}

/** The sentence of a refusal, read out at once; nothing where there is none. */
export function Problem({ children }: { children: string | undefined }) {
  return children ? (
    <p className="problem" role="alert">
      {children}
    </p>
  ) : null;
}
