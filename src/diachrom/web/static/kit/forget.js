// This device was sent away: what it kept goes.
import { forget } from "./waiting.js";
forget();
