import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { useChanged } from "../../shared/queries/collection";

export type Section = Schemas["SectionOut"];
export type Sections = Schemas["SectionsOut"];

/** How a drawing is parted. */
export function useSections(drawing: number) {
  return useQuery({
    queryKey: ["sections", drawing],
    queryFn: () => data(api.GET("/api/drawings/{drawing_id}/sections", { params: { path: { drawing_id: drawing } } })),
    placeholderData: keepPreviousData,
  });
}

/** Part a drawing by fields or by the shapes of a picture; null: let it have no sections. */
export function usePart(drawing: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (body: Schemas["PartIn"] | null) => {
      const params = { path: { drawing_id: drawing } };
      return body === null
        ? data(api.DELETE("/api/drawings/{drawing_id}/sections", { params }))
        : data(api.POST("/api/drawings/{drawing_id}/sections", { params, body }));
    },
    onSuccess: () => changed(),
  });
}

/** Call a section, and say how far it is. */
export function useDescribeSection() {
  const changed = useChanged();
  return useMutation({
    mutationFn: ({ id, ...body }: Schemas["SectionIn"] & { id: number }) =>
      data(api.PUT("/api/sections/{section_id}", { params: { path: { section_id: id } }, body })),
    onSuccess: () => changed(),
  });
}

/** Work the sections in this order. */
export function useSectionOrder(drawing: number) {
  const changed = useChanged();
  return useMutation({
    mutationFn: (ids: number[]) =>
      data(api.PUT("/api/drawings/{drawing_id}/sections/order", { params: { path: { drawing_id: drawing } }, body: { ids } })),
    onSuccess: () => changed(),
  });
}
