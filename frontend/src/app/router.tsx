import { createBrowserRouter, redirect } from "react-router";
import { COLLECTION } from "../shared/queries/collection";
import { shelvesOn } from "../shared/queries/shelves";
import { queries } from "./queries";
import { Shell } from "./shell";
import { PageFailed } from "../shared/ui/Problem";

export const router = createBrowserRouter([
  {
    path: "/",
    element: <Shell />,
    // Asked for at once, while the station's own scripts are still on their way; the shell shows what came of it.
    loader: () => {
      void queries.query(COLLECTION).catch(() => undefined);
      return null;
    },
    shouldRevalidate: () => false,
    errorElement: <PageFailed />,
    hydrateFallbackElement: <></>,
    children: [
      {
        // What fails in a station is said in its place; the rail and the context line stay.
        errorElement: <PageFailed />,
        children: [
          // By the router and not by an element, so that the station is fetched while the collection is asked for.
          { index: true, loader: () => redirect("/tidy"), element: <></> },
          {
            path: "tidy",
            // As soon as the paper is known, beside the station's scripts: of a large tidy it is the longest answer.
            loader: () => {
              void queries
                .query(COLLECTION)
                .then(({ paper_id }) => queries.query(shelvesOn(paper_id)))
                .catch(() => undefined);
              return null;
            },
            shouldRevalidate: () => false,
            lazy: async () => ({ Component: (await import("../features/tidy/page")).TidyPage }),
          },
          {
            path: "tidy/catalogue",
            lazy: async () => ({ Component: (await import("../features/exchange/page")).CataloguePage }),
          },
          { path: "tidy/paste", lazy: async () => ({ Component: (await import("../features/tidy/paste")).PasteListPage }) },
          { path: "tidy/write", lazy: async () => ({ Component: (await import("../features/tidy/write")).WriteChartPage }) },
          { path: "tidy/places", lazy: async () => ({ Component: (await import("../features/tidy/places")).PlacesPage }) },
          { path: "tidy/charts", lazy: async () => ({ Component: (await import("../features/tidy/charts")).ChartsPage }) },
          { path: "tidy/what", lazy: async () => ({ Component: (await import("../features/tidy/what")).WhatPage }) },
          { path: "tidy/colours/:id", lazy: async () => ({ Component: (await import("../features/tidy/colour")).FullColourPage }) },
          { path: "swatches", lazy: async () => ({ Component: (await import("../features/swatches/page")).SwatchesPage }) },
          { path: "swatches/begin", lazy: async () => ({ Component: (await import("../features/swatches/begin")).BeginPage }) },
          { path: "swatches/beside", lazy: async () => ({ Component: (await import("../features/swatches/beside")).BesidePage }) },
          { path: "swatches/files", lazy: async () => ({ Component: (await import("../features/exchange/swatches")).SwatchFilesPage }) },
          { path: "swatches/sheets", lazy: async () => ({ Component: (await import("../features/sheets/page")).SheetsPage }) },
          { path: "swatches/sheets/:id/photos", lazy: async () => ({ Component: (await import("../features/photos/page")).PhotosPage }) },
          { path: "swatches/papers/:id/first", lazy: async () => ({ Component: (await import("../features/swatches/first")).FirstPage }) },
          { path: "swatches/papers", lazy: async () => ({ Component: (await import("../features/papers/page")).PapersPage }) },
          { path: "swatches/:id", lazy: async () => ({ Component: (await import("../features/swatches/session")).SessionPage }) },
          { path: "layering", lazy: async () => ({ Component: (await import("../features/layering/page")).LayeringPage }) },
          { path: "scraps", lazy: async () => ({ Component: (await import("../features/scraps/list")).ScrapsPage }) },
          { path: "scraps/:id", lazy: async () => ({ Component: (await import("../features/scraps/page")).ScrapPage }) },
          { path: "drawings", lazy: async () => ({ Component: (await import("../features/drawings/page")).DrawingsPage }) },
          { path: "reference", lazy: async () => ({ Component: (await import("../features/reference/page")).ReferencePage }) },
          { path: "standins/:id", lazy: async () => ({ Component: (await import("../features/standins/page")).StandinsPage }) },
          { path: "collection", lazy: async () => ({ Component: (await import("../features/collection/keeping")).KeepingPage }) },
          { path: "recipes", lazy: async () => ({ Component: (await import("../features/recipes/list")).RecipesPage }) },
          { path: "recipes/new", lazy: async () => ({ Component: (await import("../features/recipes/paste")).PastePage }) },
          { path: "recipes/:id/edit", lazy: async () => ({ Component: (await import("../features/recipes/edit")).EditPage }) },
          { path: "recipes/:id/versions", lazy: async () => ({ Component: (await import("../features/recipes/versions")).VersionsPage }) },
          { path: "recipes/:id", lazy: async () => ({ Component: (await import("../features/recipes/page")).RecipePage }) },
          { path: "bench", lazy: async () => ({ Component: (await import("../features/bench/page")).BenchPage }) },
          { path: "bench/values", lazy: async () => ({ Component: (await import("../features/bench/values")).ValuesPage }) },
          { path: "bench/done", lazy: async () => ({ Component: (await import("../features/bench/done")).DonePage }) },
          { path: "restock", lazy: async () => ({ Component: (await import("../features/restock/page")).RestockPage }) },
          { path: "restock/list", lazy: async () => ({ Component: (await import("../features/restock/list")).ListPage }) },
          { path: "restock/pack", lazy: async () => ({ Component: (await import("../features/restock/packing")).PackingPage }) },
          { path: "restock/lasting", lazy: async () => ({ Component: (await import("../features/restock/lasting")).LastingPage }) },
          { path: "restock/fading", lazy: async () => ({ Component: (await import("../features/fading/page")).FadingPage }) },
          { path: "restock/fading/:strip", lazy: async () => ({ Component: (await import("../features/fading/strip")).StripPage }) },
          { path: "restock/practice", lazy: async () => ({ Component: (await import("../features/practice/page")).PracticePage }) },
          { path: "restock/prices", lazy: async () => ({ Component: (await import("../features/restock/prices")).PricesPage }) },
          { path: "*", lazy: async () => ({ Component: (await import("./nowhere")).Nowhere }) },
        ],
      },
    ],
  },
]);
