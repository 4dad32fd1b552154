/** The description of the API as OpenAPI 3.1 has it, made from the schemas that requests are checked by. */
import { z } from "zod";
import { version } from "../../../package.json";
import { type Operation, OPERATIONS } from "../../contract/operations";

const JSON_TYPE = "application/json";

const schemaOf = (schema: z.ZodType) => z.toJSONSchema(schema, { unrepresentable: "any", io: "input" });

const namesIn = (path: string) => [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name!);

/** A name for the operation in programs made from the description. */
const idOf = ({ method, path }: Operation): string =>
  [method.toLowerCase(), ...path.split("/").filter((part) => part && part !== "api")]
    .map((part) => part.replace(/[{}]/g, "").replace(/-(\w)/g, (_, letter: string) => letter.toUpperCase()))
    .map((part, i) => (i ? part[0]!.toUpperCase() + part.slice(1) : part))
    .join("");

function parametersOf({ path, query }: Operation) {
  const inPath = namesIn(path).map((name) => ({ name, in: "path", required: true, schema: { type: "string" } }));
  if (!query) return inPath;
  const { properties = {}, required = [] } = schemaOf(query);
  return [
    ...inPath,
    ...Object.entries(properties).map(([name, schema]) => ({
      ...{ name, in: "query", required: required.includes(name), schema },
    })),
  ];
}

function operationOf(operation: Operation) {
  const { summary, method, body, sends, answers } = operation;
  const content = body ? { [JSON_TYPE]: { schema: schemaOf(body) } } : sends ? { [sends]: {} } : null;
  const failed = { description: "What was wrong, in one line", content: { [JSON_TYPE]: { schema: ERROR } } };
  return {
    operationId: idOf(operation),
    summary,
    parameters: parametersOf(operation),
    ...(content ? { requestBody: { required: true, content } } : {}),
    ...(method === "GET" ? {} : { security: [{ token: [] }] }),
    responses: {
      "200": { description: "Done", content: { [answers ?? JSON_TYPE]: {} } },
      "4XX": failed,
      "5XX": failed,
    },
  };
}

const ERROR = { type: "object", properties: { error: { type: "string" } }, required: ["error"] };

export function apiDescription() {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const operation of OPERATIONS)
    (paths[operation.path] ??= {})[operation.method.toLowerCase()] = operationOf(operation);
  return {
    openapi: "3.1.0",
    info: {
      title: "Pale Halo",
      version,
      description:
        "What the application’s own pages ask for. Writes of other programs carry the token that the server was started with (HALO_TOKEN).",
    },
    components: { securitySchemes: { token: { type: "http", scheme: "bearer" } } },
    paths,
  };
}
