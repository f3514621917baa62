import { join } from "node:path";

export default { plugins: { "@tailwindcss/postcss": {}, [join(process.cwd(), "postcss-fonts.cjs")]: {} } };
