/** Common sensor and film apertures by what they measure, mm. */
export const SENSORS: { label: string; width: number; height: number }[] = [
  { label: "65 mm film, 15-perf", width: 70.41, height: 52.63 },
  { label: "65 mm film, 5-perf", width: 52.63, height: 23.01 },
  { label: "35 mm still frame, 8-perf", width: 36, height: 24 },
  { label: "35 mm film, full aperture, 4-perf", width: 24.9, height: 18.7 },
  { label: "35 mm film, full aperture, 3-perf", width: 24.9, height: 14 },
  { label: "35 mm film, 2-perf", width: 24.9, height: 9.35 },
  { label: "35 mm film, sound aperture, 4-perf", width: 21.95, height: 16 },
  { label: "35 mm film, 2× anamorphic aperture", width: 21.95, height: 18.6 },
  { label: "APS-C", width: 23.6, height: 15.7 },
  { label: "Four Thirds", width: 17.3, height: 13 },
  { label: "1-inch", width: 13.2, height: 8.8 },
  { label: "Super 16 film", width: 12.52, height: 7.41 },
  { label: "16 mm film", width: 10.26, height: 7.49 },
  { label: "2/3-inch", width: 8.8, height: 6.6 },
  { label: "Super 8 film", width: 5.79, height: 4.01 },
];
