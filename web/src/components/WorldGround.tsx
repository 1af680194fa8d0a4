import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type L from "leaflet";
import { useState } from "react";
import { GeoJSON, useMap, useMapEvents } from "react-leaflet";
import { answerOf, client } from "../api/client";
import { key } from "../queries/keys";
import { groundStyle, townPoint } from "./groundStyle";

/** The view and half of it around, so that a small step shows nothing blank. */
const around = (map: L.Map) => {
  const bounds = map.getBounds().pad(0.5);
  return {
    south: Math.max(-89, bounds.getSouth()),
    west: Math.max(-540, bounds.getWest()),
    north: Math.min(89, bounds.getNorth()),
    east: Math.min(540, bounds.getEast()),
  };
};

/** Land, water, borders and towns' names of the whole world, out of what ships with the application. */
export default function WorldGround({ named }: { named: Set<string> }) {
  const map = useMap();
  const [view, setView] = useState(() => around(map));
  useMapEvents({ moveend: () => setView(around(map)) });
  const ground = useQuery({
    queryKey: key("map", view),
    queryFn: async () =>
      (await answerOf(
        client.GET("/api/map/world", { params: { query: view } }),
      )) as GeoJSON.FeatureCollection,
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (!ground.data) return null;
  return (
    <GeoJSON
      key={JSON.stringify(ground.isPlaceholderData ? "" : view)}
      data={ground.data}
      filter={(feature) => feature.properties.kind !== "town" || !named.has(feature.properties.name)}
      style={groundStyle}
      pointToLayer={townPoint}
      interactive={false}
    />
  );
}
