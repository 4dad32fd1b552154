import { apiDescription } from "@/server/http/openapi";

/** What there is to be asked for, as OpenAPI. */
export const GET = () => Response.json(apiDescription());
