/** How a map looks: the colours of the page's ground, in the order in which things are drawn. */
import type { ExpressionSpecification, LayerSpecification, StyleSpecification } from "maplibre-gl";
import type { RegionMap } from "../types";

/** The font of the page: it is there already, and names on the map are drawn in it. */
const font = ["Atkinson Hyperlegible Next Variable"];

export const tileScheme = "iter-tile";

const layer = "source-layer" as const;

/** A width in pixels that grows with the zoom, from one zoom to another. */
const grows = (from: number, narrow: number, to: number, wide: number): ExpressionSpecification => [
  "interpolate",
  ["exponential", 1.5],
  ["zoom"],
  from,
  narrow,
  to,
  wide,
];

const is = (...classes: string[]): ExpressionSpecification => ["in", ["get", "class"], ["literal", classes]];

function roads(colour: (name: string) => string): LayerSpecification[] {
  const road = (id: string, classes: string[], width: ExpressionSpecification, colourOf: string): LayerSpecification => ({
    id,
    type: "line",
    source: "region",
    [layer]: "roads",
    filter: is(...classes),
    layout: { "line-join": "round", "line-cap": "round" },
    paint: { "line-color": colourOf, "line-width": width },
  });
  return [
    road("tracks", ["track"], grows(11, 0.5, 18, 5), colour("--map-road")),
    road("street-sides", ["lane", "street"], grows(10, 0.8, 18, 22), colour("--map-side")),
    road("main-sides", ["motorway", "main"], grows(6, 1.6, 18, 30), colour("--map-side")),
    road("streets", ["lane", "street"], grows(10, 0.5, 18, 18), colour("--map-road")),
    road("mains", ["motorway", "main"], grows(6, 0.8, 18, 25), colour("--map-main")),
    {
      id: "ferries",
      type: "line",
      source: "region",
      [layer]: "roads",
      filter: is("ferry"),
      paint: { "line-color": colour("--map-name"), "line-width": grows(7, 0.8, 16, 2.5), "line-dasharray": [4, 3] },
    },
  ];
}

function names(colour: (name: string) => string): LayerSpecification[] {
  const paint = { "text-color": colour("--map-name"), "text-halo-color": colour("--map-land"), "text-halo-width": 1.6 };
  const place = (id: string, classes: string[], size: ExpressionSpecification): LayerSpecification => ({
    id,
    type: "symbol",
    source: "region",
    [layer]: "places",
    filter: is(...classes),
    layout: { "text-field": ["get", "name"], "text-font": font, "text-size": size, "text-padding": 6, "text-max-width": 8 },
    paint: { ...paint, "text-color": colour("--map-place") },
  });
  return [
    {
      id: "road-names",
      type: "symbol",
      source: "region",
      [layer]: "roads",
      minzoom: 12,
      layout: { "symbol-placement": "line", "text-field": ["get", "name"], "text-font": font, "text-size": grows(12, 11, 18, 15), "symbol-spacing": 320 },
      paint,
    },
    place("hamlets", ["hamlet"], grows(10, 11, 16, 14)),
    place("villages", ["village"], grows(8, 12, 16, 18)),
    place("towns", ["town", "city"], grows(6, 13, 16, 22)),
  ];
}

/** The style of a region's map on the ground that the page has now. */
export function styleOf(about: RegionMap): StyleSpecification {
  const page = getComputedStyle(document.documentElement);
  const colour = (name: string) => page.getPropertyValue(name).trim();
  const fill = (id: string, of: string, colourOf: string, ...classes: string[]): LayerSpecification => ({
    id,
    type: "fill",
    source: "region",
    [layer]: of,
    ...(classes.length > 0 ? { filter: is(...classes) } : {}),
    paint: { "fill-color": colourOf },
  });
  return {
    version: 8,
    sources: {
      region: {
        type: "vector",
        tiles: [`${tileScheme}://${about.rev}/{z}/{x}/{y}`],
        minzoom: about.least,
        maxzoom: about.most,
      },
    },
    layers: [
      { id: "ground", type: "background", paint: { "background-color": colour(about.sea ? "--map-water" : "--map-land") } },
      fill("land", "land", colour("--map-land")),
      fill("towns-ground", "ground", colour("--map-town"), "town"),
      fill("green", "ground", colour("--map-green"), "green"),
      fill("wood", "ground", colour("--map-wood"), "wood"),
      fill("sand", "ground", colour("--map-sand"), "sand"),
      fill("water", "water", colour("--map-water")),
      {
        id: "rivers",
        type: "line",
        source: "region",
        [layer]: "rivers",
        paint: { "line-color": colour("--map-water"), "line-width": grows(8, 0.6, 16, 6) },
      },
      fill("buildings", "buildings", colour("--map-building")),
      ...roads(colour),
      ...names(colour),
    ],
  };
}
