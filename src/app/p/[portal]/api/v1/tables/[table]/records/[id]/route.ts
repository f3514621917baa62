import { getRecord } from "@/features/api/handlers";
import { apiRoute, otherMethods } from "@/features/api/route";
import { deleteRecord, patchRecord } from "@/features/api/writes";

export const GET = apiRoute(getRecord);
export const PATCH = apiRoute(patchRecord);
export const DELETE = apiRoute(deleteRecord);

const other = otherMethods("GET", "PATCH", "DELETE");

export { other as POST, other as PUT };
