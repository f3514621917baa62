import { deleteSession, postSession } from "@/features/api/handlers";
import { apiRoute } from "@/features/api/route";

export const POST = apiRoute(postSession);
export const DELETE = apiRoute(deleteSession);
