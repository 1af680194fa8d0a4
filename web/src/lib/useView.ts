import { useState } from "react";
import { useMap, useMapEvents } from "react-leaflet";

/** The part of the map that is looked at, again after each move. */
export function useView() {
  const map = useMap();
  const [view, setView] = useState(() => ({ bounds: map.getBounds(), zoom: map.getZoom() }));
  useMapEvents({ moveend: () => setView({ bounds: map.getBounds(), zoom: map.getZoom() }) });
  return { map, ...view };
}
