/** Runs in the page before everything else. */
import "./ui/shared/no-eval";
