import { getFile } from "@/features/api/files";
import { apiRoute, otherMethods } from "@/features/api/route";
import { serve } from "@/features/files/outgoing";

export const GET = apiRoute(getFile(serve));

const other = otherMethods("GET");

export { other as POST, other as PUT, other as PATCH, other as DELETE };
