import { join } from "node:path";

/**
 * The project's folder: where `dist` and `examples` are. The command line's bundle and Next.js both start in it or set
 * it.
 */
export const projectRoot = () => process.env.HALO_ROOT ?? process.cwd();
export const built = (name: string) => join(projectRoot(), "dist", name);
