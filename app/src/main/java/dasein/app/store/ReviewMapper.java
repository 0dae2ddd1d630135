package dasein.app.store;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Links by which people look at a shot, and what they noted. */
@Mapper
public interface ReviewMapper {
    record Link(long id, long shotId, String name, OffsetDateTime created, OffsetDateTime revoked) {}

    /**
     * @param x, y place in the frame, 0 to 1; null for the frame as a whole
     * @param linkId through which it came, null for the owner's
     */
    record Note(
            long id,
            long shotId,
            long revisionId,
            Long linkId,
            int frame,
            Double x,
            Double y,
            String author,
            String text,
            String state,
            OffsetDateTime created) {}

    @Insert("insert into review_link (shot_id, name, hash) values (#{shot}, #{name}, #{hash})")
    void link(@Param("shot") long shot, @Param("name") String name, @Param("hash") String hash);

    @Select("select id, shot_id, name, created, revoked from review_link where shot_id = #{shot} order by id desc")
    List<Link> links(long shot);

    /** The link of a token, null where there is none or it was revoked. */
    @Select("select id, shot_id, name, created, revoked from review_link where hash = #{hash} and revoked is null")
    Link open(String hash);

    @Update("update review_link set revoked = now() where id = #{id} and shot_id = #{shot} and revoked is null")
    int revoke(@Param("shot") long shot, @Param("id") long id);

    @Select("select id, shot_id, revision_id, link_id, frame, x, y, author, text, state, created from review_note "
            + "where shot_id = #{shot} order by frame, id")
    List<Note> notes(long shot);

    @Select("select count(*) from review_note where shot_id = #{shot}")
    int count(long shot);

    @Insert("insert into review_note (shot_id, revision_id, link_id, frame, x, y, author, text) values (#{shot}, "
            + "#{revision}, #{link}, #{frame}, #{x}, #{y}, #{author}, #{text})")
    void note(
            @Param("shot") long shot,
            @Param("revision") long revision,
            @Param("link") Long link,
            @Param("frame") int frame,
            @Param("x") Double x,
            @Param("y") Double y,
            @Param("author") String author,
            @Param("text") String text);

    @Update("update review_note set state = #{state} where id = #{id} and shot_id = #{shot}")
    int state(@Param("shot") long shot, @Param("id") long id, @Param("state") String state);

    @Delete("delete from review_note where id = #{id} and shot_id = #{shot}")
    int drop(@Param("shot") long shot, @Param("id") long id);
}
