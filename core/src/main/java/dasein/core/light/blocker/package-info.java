/** What stands between the light and the shot and is never seen: flags, and leaves that drift. */
package dasein.core.light.blocker;
