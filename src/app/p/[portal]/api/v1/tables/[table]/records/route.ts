import { getRecords, postRecord } from "@/features/api/handlers";
import { apiRoute } from "@/features/api/route";

export const GET = apiRoute(getRecords);
export const POST = apiRoute(postRecord);
