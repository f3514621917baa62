import { getExport } from "@/features/api/export";
import { apiRoute, otherMethods } from "@/features/api/route";

export const GET = apiRoute(getExport);

const other = otherMethods("GET");

export { other as POST, other as PUT, other as PATCH, other as DELETE };
