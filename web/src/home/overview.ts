import { useQuery } from "@tanstack/react-query";
import { api, take } from "@/api/client";

/** How every build stands, and what they teach one another. */
export function useOverview() {
  return useQuery({
    queryKey: ["overview"],
    queryFn: () => take(api.GET("/api/overview")),
    refetchOnMount: "always",
  });
}
