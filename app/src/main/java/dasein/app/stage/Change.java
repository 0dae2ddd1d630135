package dasein.app.stage;

import dasein.core.shot.Shot;

/** What an edit makes of a shot. @param summary what the revision is called */
public record Change(Shot shot, String summary) {}
