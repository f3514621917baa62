import { postInvitation } from "@/features/api/company";
import { apiRoute, otherMethods } from "@/features/api/route";

export const POST = apiRoute(postInvitation);

const other = otherMethods("POST");

export { other as GET, other as PUT, other as PATCH, other as DELETE };
