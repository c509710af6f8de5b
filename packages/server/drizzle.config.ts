/** How migrations are made from the schema: `npm run migration -- NAME`. */
export default { dialect: "sqlite", schema: "./src/store/schema.ts", out: "./drizzle" };
