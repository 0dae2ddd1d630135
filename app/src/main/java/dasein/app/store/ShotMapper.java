package dasein.app.store;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

@Mapper
public interface ShotMapper {
    record Show(long id, String name) {}

    /** {@code showRate}: frames a second of the show as a fraction, empty when nobody said it. */
    record ShotRow(long id, long showId, String showName, String showRate, String name, long head) {}

    record Revision(long id, long shotId, Long parent, String document, String summary, String who) {}

    @Select("select id, name from show order by name")
    List<Show> shows();

    @Select("insert into show (name) values (#{name}) on conflict (name) do update set name = excluded.name "
            + "returning id")
    long show(String name);

    @Update("update show set rate = #{rate} where id = #{id}")
    int showRate(@Param("id") long id, @Param("rate") String rate);

    @Select("select shot.id, show_id, show.name as show_name, show.rate as show_rate, shot.name, head from "
            + "shot join show on show.id = show_id where head is not null and removed is null "
            + "order by show.name, shot.name")
    List<ShotRow> shots();

    @Select("select shot.id, show_id, show.name as show_name, show.rate as show_rate, shot.name, head from "
            + "shot join show on show.id = show_id where shot.id = #{id} and head is not null and removed is null")
    ShotRow shot(long id);

    /** Shots that were taken away and can be put back, the last one first. */
    @Select("select shot.id, show_id, show.name as show_name, show.rate as show_rate, shot.name, head from "
            + "shot join show on show.id = show_id where head is not null and removed is not null "
            + "order by removed desc, shot.id desc limit 50")
    List<ShotRow> takenAway();

    /** @return 0 when it is not there */
    @Update("update shot set removed = now() where id = #{id} and removed is null")
    int takeAway(long id);

    /** @return 0 when it is there, or another one has its name by now */
    @Update("update shot set removed = null where id = #{id} and removed is not null and not exists "
            + "(select 1 from shot other where other.show_id = shot.show_id and other.name = shot.name "
            + "and other.removed is null)")
    int putBack(long id);

    @Select("select count(*) from shot join show on show.id = show_id where show.name = #{show} and "
            + "shot.name = #{name} and removed is null")
    int named(@Param("show") String show, @Param("name") String name);

    @Select("insert into shot (show_id, name) values (#{showId}, #{name}) on conflict do nothing returning id")
    Long insertShot(@Param("showId") long showId, @Param("name") String name);

    @Select("insert into revision (shot_id, parent, document, summary, who) values (#{shotId}, #{parent}, "
            + "cast(#{document} as jsonb), #{summary}, #{who}) returning id")
    long insertRevision(
            @Param("shotId") long shotId,
            @Param("parent") Long parent,
            @Param("document") String document,
            @Param("summary") String summary,
            @Param("who") String who);

    @Select("select id, shot_id, parent, document::text as document, summary, who from revision where id = #{id}")
    Revision revision(long id);

    /** Newest child of a revision, null when nothing was undone from it. */
    @Select("select max(id) from revision where parent = #{id}")
    Long redo(long id);

    @Select("select count(*) from revision where shot_id = #{shotId} and id <= #{head}")
    int number(@Param("shotId") long shotId, @Param("head") long head);

    /** Moves the head if it is still where the caller saw it; 0 rows when somebody was faster. */
    @Update("update shot set head = #{to} where id = #{id} and head is not distinct from #{from}")
    int moveHead(@Param("id") long id, @Param("from") Long from, @Param("to") long to);

    /**
     * @param file beside the row, empty for none; @param bytes how long it is, negative where nobody looked; @param
     *     sha256 of it, empty likewise
     */
    record Result(String kind, String fingerprint, String facts, String file, long bytes, String sha256) {}

    @Select("select kind, fingerprint, facts::text as facts, file, bytes, sha256 from result where kind = #{kind} and "
            + "fingerprint = #{fingerprint}")
    Result result(@Param("kind") String kind, @Param("fingerprint") String fingerprint);

    @Select({
        "<script>select kind, fingerprint, facts::text as facts, file, bytes, sha256 from result ",
        "where kind = #{kind} and fingerprint in ",
        "<foreach item='f' collection='prints' open='(' separator=',' close=')'>#{f}</foreach></script>"
    })
    List<Result> known(@Param("kind") String kind, @Param("prints") List<String> prints);

    /** What is computed anew takes the place of what was lost. */
    @Insert("insert into result (kind, fingerprint, facts, file, bytes, sha256) values (#{kind}, #{fingerprint}, "
            + "cast(#{facts} as jsonb), #{file}, #{bytes}, #{sha256}) on conflict (kind, fingerprint) do update set "
            + "facts = excluded.facts, file = excluded.file, bytes = excluded.bytes, sha256 = excluded.sha256")
    int insertResult(Result r);

    @Delete("delete from result where kind = #{kind} and fingerprint = #{fingerprint}")
    int forgetResult(@Param("kind") String kind, @Param("fingerprint") String fingerprint);

    /** The newest states of all shots, by the shot. */
    @Select("select revision.id, shot_id, parent, document::text as document, summary, who from revision join shot on "
            + "shot.head = revision.id")
    List<Revision> heads();

    /** How many states each shot has gone through up to its head. */
    @Select("select shot_id as shot, count(*)::int as revisions from revision join shot on shot.id = shot_id "
            + "where revision.id <= shot.head group by shot_id")
    List<Count> numbers();

    record Count(long shot, int revisions) {}

    /** When a revision was made. */
    @Select("select created from revision where id = #{id}")
    java.time.OffsetDateTime changed(long id);
}
