import { deleteRecord, getRecord, patchRecord } from "@/features/api/handlers";
import { apiRoute, otherMethods } from "@/features/api/route";

export const GET = apiRoute(getRecord);
export const PATCH = apiRoute(patchRecord);
export const DELETE = apiRoute(deleteRecord);

const other = otherMethods("GET", "PATCH", "DELETE");

export { other as POST, other as PUT };
