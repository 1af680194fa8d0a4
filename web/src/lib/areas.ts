import type { Area } from "../api/client";

export const MAX_KM = 200;
const KM_PER_DEGREE = 111.32;

export const isCircle = (
  area: Area | undefined,
): area is Area & { lat: number; lon: number; radius_m: number } =>
  area?.radius_m != null && area.lat != null && area.lon != null;

export const circle = (name: string, lat: number, lon: number, km: number): Area => ({
  name,
  lat,
  lon,
  radius_m: km * 1000,
});

export interface Part {
  name: string;
  /** Where its areas stand in the territory: a region of many islands is one line of the list. */
  at: number[];
}

/** Areas put together by name, where neighbours in the list bear the same one. */
export function partsOf(areas: Area[]): Part[] {
  const parts: Part[] = [];
  for (const [index, area] of areas.entries()) {
    const last = parts.at(-1);
    if (last && area.name && last.name === area.name && !isCircle(area)) last.at.push(index);
    else parts.push({ name: area.name ?? "", at: [index] });
  }
  return parts;
}

/** Corners of an outline as [latitude, longitude]; GeoJSON has them the other way round. */
export const corners = (area: Area): [number, number][] =>
  (area.rings?.[0] ?? []).slice(0, -1).map(([lon, lat]) => [lat ?? 0, lon ?? 0]);

export function outline(name: string, points: [number, number][], holes: number[][][] = []): Area {
  const ring = points.map(([lat, lon]) => [lon, lat]);
  return { name, rings: [[...ring, ring[0] ?? [0, 0]], ...holes] };
}

/** Outline and holes as [latitude, longitude], to be drawn. */
export const ringsOf = (area: Area): [number, number][][] =>
  (area.rings ?? []).map((ring) => ring.map(([lon, lat]) => [lat ?? 0, lon ?? 0]));

/** The same area grown or shrunk about its middle. */
export function scaled(area: Area, factor: number): Area {
  if (isCircle(area))
    return { ...area, radius_m: Math.min(MAX_KM * 1000, Math.max(100, area.radius_m * factor)) };
  const points = corners(area);
  const lat = points.reduce((sum, point) => sum + point[0], 0) / points.length;
  const lon = points.reduce((sum, point) => sum + point[1], 0) / points.length;
  const rings = (area.rings ?? []).map((ring) =>
    ring.map(([x, y]) => [lon + ((x ?? 0) - lon) * factor, lat + ((y ?? 0) - lat) * factor]),
  );
  return { ...area, rings };
}

/** What tells an area from the others in a list. */
export const keyOf = (area: Area): string =>
  isCircle(area)
    ? `${area.name}/${area.lat},${area.lon}`
    : `${area.name}/${area.rings?.[0]?.flat().slice(0, 6).join()}`;

export function sizeOf(area: Area): string {
  if (isCircle(area)) {
    const km = area.radius_m / 1000;
    return `${km < 10 ? km.toFixed(1) : km.toFixed(0)} km around`;
  }
  const points = corners(area);
  const lats = points.map((point) => point[0]);
  const lons = points.map((point) => point[1]);
  const high = (Math.max(...lats) - Math.min(...lats)) * KM_PER_DEGREE;
  const wide =
    (Math.max(...lons) - Math.min(...lons)) * KM_PER_DEGREE * Math.cos(((lats[0] ?? 0) * Math.PI) / 180);
  return `${wide.toFixed(0)} × ${high.toFixed(0)} km`;
}
