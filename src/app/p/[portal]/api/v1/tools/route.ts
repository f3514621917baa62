import { apiRoute, otherMethods } from "@/features/api/route";
import { postTools } from "@/features/api/tools/route";

export const POST = apiRoute(postTools);

const other = otherMethods("POST");

export { other as GET, other as PUT, other as PATCH, other as DELETE };
