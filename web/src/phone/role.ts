import { useQuery } from "@tanstack/react-query";
import { api, take } from "@/api/client";

export const ROLE_KEY = ["lan", "role"];

/** Who this page is: the machine's own, or a phone that was let in or not. */
export function useRole() {
  return useQuery({
    queryKey: ROLE_KEY,
    queryFn: () => take(api.GET("/api/lan/role")),
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  });
}
