import { getChanges } from "@/features/api/changes";
import { apiRoute, otherMethods } from "@/features/api/route";

export const GET = apiRoute(getChanges);

const other = otherMethods("GET");

export { other as POST, other as PUT, other as PATCH, other as DELETE };
