package dasein.app.store;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** States of shots that somebody gave a name. */
@Mapper
public interface VersionMapper {
    record Version(long id, long shotId, long revisionId, String name, String note) {}

    @Select("select id, shot_id, revision_id, name, note from version where shot_id = #{shot} order by id")
    List<Version> of(long shot);

    /** A name that is there already is given to the new state. */
    @Insert("insert into version (shot_id, revision_id, name, note) values (#{shot}, #{revision}, #{name}, #{note}) on "
            + "conflict (shot_id, name) do update set revision_id = excluded.revision_id, note = excluded.note")
    void keep(
            @Param("shot") long shot,
            @Param("revision") long revision,
            @Param("name") String name,
            @Param("note") String note);

    @Delete("delete from version where shot_id = #{shot} and id = #{id}")
    int drop(@Param("shot") long shot, @Param("id") long id);
}
