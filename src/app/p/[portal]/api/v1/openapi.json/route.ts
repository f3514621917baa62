import { getOpenApi } from "@/features/api/openapi";
import { apiRoute, otherMethods } from "@/features/api/route";

export const GET = apiRoute(getOpenApi);

const other = otherMethods("GET");

export { other as POST, other as PUT, other as PATCH, other as DELETE };
