import { file } from "@/features/files/routes";

export const { GET, HEAD } = file("portal");
