import { upload } from "@/features/files/routes";

export const { HEAD, PATCH, DELETE } = upload("portal");
