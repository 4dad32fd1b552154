import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { expect, test } from "vitest";
import { OPERATIONS } from "../../contract/operations";
import { apiDescription } from "./openapi";

const ROUTES = "src/app/api";

/** Every method of every route file, as `GET /api/shots/{id}`. */
function routes(): string[] {
  const files = readdirSync(ROUTES, { recursive: true, encoding: "utf8" }).filter((name) =>
    /(^|\/)route\.ts$/.test(name),
  );
  return files.flatMap((name) => {
    const path = `/api/${name}`.replace(/\/route\.ts$/, "").replace(/\[(?:\.\.\.)?(\w+)\]/g, "{$1}");
    const methods = readFileSync(join(ROUTES, name), "utf8").matchAll(/^export const (GET|POST|PUT|PATCH|DELETE)\b/gm);
    return [...methods].map(([, method]) => `${method} ${path}`);
  });
}

test("every operation there is is described, and no other", () => {
  expect(OPERATIONS.map(({ method, path }) => `${method} ${path}`).sort()).toEqual(routes().sort());
});

test("bodies and queries are those that requests are checked by", () => {
  const { paths } = apiDescription();
  const order = paths["/api/renders"]!.post as {
    operationId: string;
    security: unknown;
    requestBody: { content: Record<string, { schema: { required: string[]; properties: object } }> };
  };
  expect(order.operationId).toBe("postRenders");
  const { schema } = order.requestBody.content["application/json"]!;
  expect(schema.required).toEqual(expect.arrayContaining(["shotId", "look", "format", "first", "last"]));
  expect(schema.properties).toHaveProperty("carried");
  expect(order.security).toEqual([{ token: [] }]);
  const frame = paths["/api/shots/{id}/frames/{frame}"]!.get as { parameters: { name: string; in: string }[] };
  expect(frame.parameters.map(({ name, in: where }) => `${where} ${name}`)).toEqual([
    "path id",
    "path frame",
    "query divide",
    "query plane",
    "query encoding",
    "query overscan",
  ]);
});
