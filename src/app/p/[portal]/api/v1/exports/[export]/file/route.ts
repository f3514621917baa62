import { getExportFile } from "@/features/api/exports-later";
import { apiRoute, otherMethods } from "@/features/api/route";

export const GET = apiRoute(getExportFile);

const other = otherMethods("GET");

export { other as POST, other as PUT, other as PATCH, other as DELETE };
