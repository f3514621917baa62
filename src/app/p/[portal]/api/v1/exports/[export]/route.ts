import { deleteExport, getExportState } from "@/features/api/exports-later";
import { apiRoute, otherMethods } from "@/features/api/route";

export const GET = apiRoute(getExportState);
export const DELETE = apiRoute(deleteExport);

const other = otherMethods("GET", "DELETE");

export { other as POST, other as PUT, other as PATCH };
