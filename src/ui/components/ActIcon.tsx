import Add from '@mui/icons-material/Add';
import BookmarkBorder from '@mui/icons-material/BookmarkBorder';
import Close from '@mui/icons-material/Close';
import DarkModeOutlined from '@mui/icons-material/DarkModeOutlined';
import DragIndicator from '@mui/icons-material/DragIndicator';
import EditOutlined from '@mui/icons-material/EditOutlined';
import ExpandMore from '@mui/icons-material/ExpandMore';
import FileDownloadOutlined from '@mui/icons-material/FileDownloadOutlined';
import FormatListBulleted from '@mui/icons-material/FormatListBulleted';
import InsertChartOutlined from '@mui/icons-material/InsertChartOutlined';
import LightModeOutlined from '@mui/icons-material/LightModeOutlined';
import Logout from '@mui/icons-material/Logout';
import PasswordOutlined from '@mui/icons-material/PasswordOutlined';
import Search from '@mui/icons-material/Search';
import ViewColumnOutlined from '@mui/icons-material/ViewColumnOutlined';

const icons = {
  add: Add,
  chart: InsertChartOutlined,
  columns: ViewColumnOutlined,
  day: LightModeOutlined,
  drag: DragIndicator,
  edit: EditOutlined,
  export: FileDownloadOutlined,
  group: FormatListBulleted,
  leave: Logout,
  night: DarkModeOutlined,
  open: ExpandMore,
  password: PasswordOutlined,
  remove: Close,
  search: Search,
  views: BookmarkBorder,
};

/** The picture of an act, beside its words or on a button that has a label. States have glyphs of their own. */
export function ActIcon({ act }: { act: keyof typeof icons }) {
  const Icon = icons[act];
  return <Icon className="acticon" aria-hidden fontSize="inherit" />;
}
