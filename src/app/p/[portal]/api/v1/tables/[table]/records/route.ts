import { getRecords } from "@/features/api/handlers";
import { apiRoute, otherMethods } from "@/features/api/route";
import { postRecord } from "@/features/api/writes";

export const GET = apiRoute(getRecords);
export const POST = apiRoute(postRecord);

const other = otherMethods("GET", "POST");

export { other as PUT, other as PATCH, other as DELETE };
