import { getMe } from "@/features/api/handlers";
import { apiRoute, otherMethods } from "@/features/api/route";

export const GET = apiRoute(getMe);

const other = otherMethods("GET");

export { other as POST, other as PUT, other as PATCH, other as DELETE };
