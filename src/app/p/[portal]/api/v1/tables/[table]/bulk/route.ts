import { apiRoute, otherMethods } from "@/features/api/route";
import { postBulk } from "@/features/api/writes";

export const POST = apiRoute(postBulk);

const other = otherMethods("POST");

export { other as GET, other as PUT, other as PATCH, other as DELETE };
