import { useMutation, useQuery } from "@tanstack/react-query";
import { api, data } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

/** The newest changes first. */
export function useChanges() {
  return useQuery({ queryKey: ["changes"], queryFn: () => data(api.GET("/api/changes")) });
}

/** Put a backup in the place of the collection. */
export function useRestore() {
  const changed = useChanged();
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData();
      form.append("file", file);
      return data(api.POST("/api/collection/restore", { body: { file: "" }, bodySerializer: () => form }));
    },
    onSuccess: () => changed(),
  });
}

/** Which program this is, and where it keeps things. */
export function useAbout() {
  return useQuery({ queryKey: ["about"], queryFn: () => data(api.GET("/api/about")), staleTime: Infinity });
}
