/** Extensions of movies that are taken in, by the browser or through ffmpeg. */
const MOVIE_EXTENSIONS = [".mp4", ".mov", ".m4v", ".webm", ".mkv", ".mxf", ".avi", ".ts", ".m2ts", ".mts"];

export const isMovieName = (path: string): boolean =>
  MOVIE_EXTENSIONS.some((extension) => path.toLowerCase().endsWith(extension));
