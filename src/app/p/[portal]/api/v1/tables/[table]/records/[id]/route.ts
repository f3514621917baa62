import { deleteRecord, getRecord, patchRecord } from "@/features/api/handlers";
import { apiRoute } from "@/features/api/route";

export const GET = apiRoute(getRecord);
export const PATCH = apiRoute(patchRecord);
export const DELETE = apiRoute(deleteRecord);
