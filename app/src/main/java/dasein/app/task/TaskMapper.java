package dasein.app.task;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

@Mapper
public interface TaskMapper {
    /** Frames that are left take as long as the others did, shared by those who have some in hand. */
    String COLUMNS =
            "id, shot_id, revision_id, kind, label, settings, state, done, note, created, started, ended, low, "
                    + "(select avg(f.seconds) * count(*) filter (where not f.finished and not f.failed) / greatest(1, "
                    + "(select count(*) from task_hold h join task_frame g on g.task_id = h.task_id and g.frame = h.frame "
                    + "where h.task_id = task.id and h.held and not g.finished and not g.failed)) "
                    + "from task_frame f where f.task_id = task.id) as frames_left";

    @Select("insert into task (shot_id, revision_id, kind, label, settings) values (#{shotId}, "
            + "#{revisionId}, #{kind}, #{label}, #{settings}) returning id")
    long insert(
            @Param("shotId") long shotId,
            @Param("revisionId") long revisionId,
            @Param("kind") String kind,
            @Param("label") String label,
            @Param("settings") String settings);

    @Select("insert into task (shot_id, revision_id, kind, label, low) values (#{shotId}, #{revisionId}, #{kind}, "
            + "#{label}, #{low}) returning id")
    long insertFrames(
            @Param("shotId") long shotId,
            @Param("revisionId") long revisionId,
            @Param("kind") String kind,
            @Param("label") String label,
            @Param("low") boolean low);

    @Select("select " + COLUMNS + " from task where id = #{id}")
    Task find(long id);

    @Select("select " + COLUMNS + " from task order by id desc limit 200")
    List<Task> newest();

    @Select("select " + COLUMNS
            + " from task where shot_id = #{shotId} and state in ('waiting', 'running', 'paused') order by id")
    List<Task> open(long shotId);

    /** Held until the transaction ends: who starts work of a kind in a shot does so one after the other. */
    @Select("select pg_advisory_xact_lock(#{shotId}::int, hashtext(#{kind}))::text")
    String lock(@Param("shotId") long shotId, @Param("kind") String kind);

    @Select("select " + COLUMNS + " from task where shot_id = #{shotId} and kind = #{kind} and state in "
            + "('waiting', 'running', 'paused') order by id")
    List<Task> openOf(@Param("shotId") long shotId, @Param("kind") String kind);

    /** Frames of a task that were not done. */
    @Select("select frame from task_frame where task_id = #{id} and not finished order by frame")
    List<Integer> framesLeft(long id);

    /** Those that are to be done yet, in their order. */
    @Select("select frame from task_frame where task_id = #{id} and not finished and not failed order by place")
    List<Integer> framesInLine(long id);

    /** When the first of all frames that wait is due. */
    @Select("select min(execution_time) from scheduled_frames where not picked")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    OffsetDateTime firstDue();

    /** Every lining-up of a frame has its own number. */
    @Select("update task_frame set tries = tries + 1 where task_id = #{id} and frame = #{frame} returning tries")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    int lineUp(@Param("id") long id, @Param("frame") int frame);

    @Select("select coalesce((select tries from task_frame where task_id = #{id} and frame = #{frame}), -1)")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    int tries(@Param("id") long id, @Param("frame") int frame);

    @Update("update task set state = 'paused', note = 'paused' where id = #{id} and state in ('waiting', 'running') "
            + "and exists (select 1 from task_frame f where f.task_id = task.id)")
    int pause(long id);

    @Update("update task set state = 'waiting', note = '' where id = #{id} and state = 'paused'")
    int goOn(long id);

    @Update("update task_frame set failed = false, note = '' where task_id = #{id} and frame = #{frame} and failed")
    int unfail(@Param("id") long id, @Param("frame") int frame);

    /** All frames of a task, rising. */
    @Select("select f.frame, f.finished, f.failed, f.note, f.seconds, case when h.held and not f.finished and not "
            + "f.failed then h.worker else '' end as worker, coalesce(h.attempt, 0) as attempt, "
            + "coalesce(extract(epoch from now() - h.taken), 0)::double precision as for_seconds from task_frame f "
            + "left join task_hold h on h.task_id = f.task_id and h.frame = f.frame where f.task_id = #{id} "
            + "order by f.frame")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    List<FrameState> frameStates(long id);

    /** Who works on what now: program, task, frame. */
    @Select("select h.task_id, h.frame, h.worker, h.attempt, extract(epoch from now() - h.taken)::double precision as "
            + "for_seconds from task_hold h join task t on t.id = h.task_id where h.held and t.state = 'running' "
            + "order by h.worker, h.taken")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    List<AtWork> atWork();

    record AtWork(long taskId, int frame, String worker, int attempt, double forSeconds) {}

    /** The last task of each kind of every shot. */
    @Select("select distinct on (shot_id, kind) " + COLUMNS + " from task order by shot_id, kind, id desc")
    List<Task> lastOfAll();

    /** The last task of each kind of a shot. */
    @Select("select distinct on (kind) " + COLUMNS + " from task where shot_id = #{shotId} order by kind, id desc")
    List<Task> last(long shotId);

    /** Settings of every output that was written for a shot, newest first. */
    @Select("select settings from task where shot_id = #{shotId} and kind = 'output' and state = 'done' "
            + "order by id desc limit 40")
    List<String> written(long shotId);

    @Select("select count(*) from task where state in ('waiting', 'running')")
    int busy();

    @Update("update task set state = 'running', started = coalesce(started, now()) where id = #{id} and "
            + "state in ('waiting', 'running')")
    int start(long id);

    /** Whether a hold is still the last one of its job. */
    String MINE = " exists (select 1 from task_hold h where h.task_id = #{h.taskId} and h.frame = #{h.frame} and "
            + "h.attempt = #{h.attempt})";

    /** Takes a job in hand; whoever had it is no longer heard. */
    @Select("insert into task_hold (task_id, frame, attempt, held, deaths, worker) values (#{id}, #{frame}, 1, true, "
            + "0, #{worker}) on conflict (task_id, frame) do update set attempt = task_hold.attempt + 1, held = true, "
            + "worker = #{worker}, taken = now(), deaths = task_hold.deaths + case when task_hold.held then 1 else 0 end "
            + "returning task_id, frame, attempt, deaths")
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    Hold take(@Param("id") long id, @Param("frame") int frame, @Param("worker") String worker);

    /** Gives a job back that is to be taken up again. */
    @Update("update task_hold set held = false where task_id = #{taskId} and frame = #{frame} and "
            + "attempt = #{attempt}")
    void giveBack(Hold h);

    @Update("update task set done = #{done}, note = #{note} where id = #{h.taskId} and state = 'running' and" + MINE)
    int progress(@Param("h") Hold h, @Param("done") double done, @Param("note") String note);

    /** By who has a job of it in hand. */
    @Update("update task set state = #{state}, note = #{note}, done = case when #{state} = 'done' then 1 "
            + "else done end, ended = now() where id = #{h.taskId} and state in ('waiting', 'running') and" + MINE)
    int endHeld(@Param("h") Hold h, @Param("state") String state, @Param("note") String note);

    @Update("update task set state = #{state}, note = #{note}, done = case when #{state} = 'done' then 1 "
            + "else done end, ended = now() where id = #{id} and state in ('waiting', 'running', 'paused')")
    int end(@Param("id") long id, @Param("state") String state, @Param("note") String note);

    @Insert({
        "<script>insert into task_frame (task_id, frame, place) values ",
        "<foreach item='f' index='k' collection='frames' separator=','>(#{id}, #{f}, #{k})</foreach></script>"
    })
    void addFrames(@Param("id") long id, @Param("frames") List<Integer> frames);

    @Update("update task_frame set finished = true, failed = false, note = '', seconds = #{seconds} "
            + "where task_id = #{h.taskId} and frame = #{h.frame} and" + MINE)
    int frameDone(@Param("h") Hold h, @Param("seconds") double seconds);

    @Update("update task_frame set failed = true, note = #{note} where task_id = #{h.taskId} and frame = #{h.frame} "
            + "and not finished and" + MINE)
    int frameFailed(@Param("h") Hold h, @Param("note") String note);

    @Select("select count(*) from task_frame where task_id = #{id}")
    int frames(long id);

    @Select("select count(*) from task_frame where task_id = #{id} and finished")
    int framesDone(long id);

    /** What a frame of a shot took to render of late, seconds; null where none was. */
    @Select("select avg(seconds) from (select f.seconds from task_frame f join task t on t.id = f.task_id where "
            + "t.shot_id = #{shot} and t.kind = 'passes' and f.seconds is not null order by t.id desc limit 50) lately")
    Double secondsOfFrame(long shot);
}
