import { deleteSession, postSession } from "@/features/api/handlers";
import { apiRoute, otherMethods } from "@/features/api/route";

export const POST = apiRoute(postSession);
export const DELETE = apiRoute(deleteSession);

const other = otherMethods("POST", "DELETE");

export { other as GET, other as PUT, other as PATCH };
