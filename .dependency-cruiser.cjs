/** The arrows of the architecture: what each folder must not reach. */
const not = (name, from, to, comment) => ({
  name,
  comment,
  severity: "error",
  from: { path: from, pathNot: "\\.test\\.ts$" },
  to: { path: to },
});
const outside =
  "^(node_modules/(react|react-dom|next|drizzle-orm|@electric-sql|pg|sharp)/|fs$|path$|zlib$|worker_threads$|os$|crypto$)";

/** The core's folders from the ground up: each may import those before it. */
const CORE = [
  "maths",
  "colour",
  "image",
  "profile",
  "track",
  "frame",
  "handles",
  "engine",
  "spread",
  "contrast",
  "elements",
  "view",
  "when",
  "where",
  "look",
  "compile",
  "measure",
  "scopes",
  "judge",
  "export",
  "wall",
  "sheet",
  "verify",
];
const coreArrows = CORE.slice(0, -1).map((folder, i) =>
  not(
    `core-${folder}-looks-down`,
    `^src/core/${folder}/`,
    `^src/core/(${CORE.slice(i + 1).join("|")})/`,
    "The core's folders build on one another in one direction, types included.",
  ),
);

module.exports = {
  forbidden: [
    not(
      "core-is-alone",
      "^src/core/",
      "^src/(contract|formats|store|server|cli|ui|app|demo|testing)/",
      "The core depends on nothing above it.",
    ),
    not("core-is-pure", "^src/core/", outside, "The core imports no React, DOM, Next.js, Node or database."),
    not(
      "formats-know-images",
      "^src/formats/",
      "^src/(contract|store|server|cli|ui|app|demo)/|^src/core/(?!image|colour|maths|engine/module)",
      "Formats know images and colour only, and how the kernels are bound.",
    ),
    not(
      "contract-knows-core",
      "^src/contract/",
      "^src/(formats|store|server|cli|ui|app|demo|testing)/",
      "What browser and server say to each other knows the core only.",
    ),
    not(
      "store-knows-core",
      "^src/store/",
      "^src/(contract|formats|server|cli|ui|app|demo)/",
      "The store knows the core only.",
    ),
    not("server-below-interface", "^src/server/", "^src/(cli|ui|app)/", "The server is called; it calls no interface."),
    not("cli-without-interface", "^src/cli/", "^src/(ui|app|store)/", "The command line has no database and no React."),
    not(
      "interface-through-api",
      "^src/ui/",
      "^src/(server|store|cli|app|formats|demo)/",
      "The interface speaks to the server through the API, in the words of the contract.",
    ),
    not("demo-is-code", "^src/demo/", "^src/(store|server|cli|ui|app)/", "The demo production is code and data."),
    ...coreArrows,
    { name: "no-circles", severity: "error", from: { pathNot: "\\.test\\.ts$" }, to: { circular: true } },
    {
      name: "no-circles-between-folders",
      comment: "A folder of the interface or of the server that needs another is not needed by it.",
      severity: "error",
      scope: "folder",
      from: { path: "^src/(ui|server)/" },
      to: { circular: true },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    // Tests may reach anywhere.
    exclude: { path: "\\.next|\\.test\\.tsx?$|^src/testing/|/test-world\\.ts$" },
  },
};
